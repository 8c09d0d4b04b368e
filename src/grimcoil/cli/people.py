"""`grimcoil people`: add, list, change and remove those who may sign in. Passwords are asked for, never arguments."""

from __future__ import annotations

import argparse
import getpass
import sys
from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

from grimcoil.cli.database import with_store
from grimcoil.core.people import Role


def add_to(commands: Any) -> None:
    """Declare the command and its verbs."""
    command: argparse.ArgumentParser = commands.add_parser("people")
    verbs = command.add_subparsers(dest="verb", required=True)
    add = verbs.add_parser("add", help="add someone; asks for the password")
    add.add_argument("login", metavar="LOGIN")
    add.add_argument("--name", required=True, help="as it stands beside readings")
    add.add_argument("--role", required=True, choices=[role.value for role in Role])
    add.add_argument("--under", default="", metavar="LOGIN", help="the signer an apprentice works under")
    role = verbs.add_parser("role", help="another role")
    role.add_argument("login", metavar="LOGIN")
    role.add_argument("role", choices=[known.value for known in Role])
    role.add_argument("--under", default="", metavar="LOGIN", help="the signer an apprentice works under")
    for name, words in (
        ("remove", "end every sign-in and token of someone; the record keeps the name"),
        ("password", "set a new password; asks for it"),
    ):
        verbs.add_parser(name, help=words).add_argument("login", metavar="LOGIN")
    verbs.add_parser("list", help="everyone, with role")
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Do it; 2 with a line where it can't be done."""
    return with_store(lambda store: WORK[arguments.verb](store, arguments))


def _password() -> str:
    """Typed twice at a terminal; one line where another program gives it."""
    if not sys.stdin.isatty():
        return sys.stdin.readline().rstrip("\n")
    first = getpass.getpass("Password: ")
    return first if getpass.getpass("Again: ") == first else ""


def _add(store: Any, arguments: argparse.Namespace) -> str:
    from grimcoil.service import people

    new = people.NewPerson(arguments.login, arguments.name, arguments.role, _password(), arguments.under)
    login = people.add_person(store, people.COMMAND_LINE, new, datetime.now(UTC))
    return f"{login} may sign in as {arguments.role}"


def _role(store: Any, arguments: argparse.Namespace) -> str:
    from grimcoil.service import people

    now = datetime.now(UTC)
    people.change_role(store, people.COMMAND_LINE, arguments.login, arguments.role, arguments.under, now)
    return f"{arguments.login} is {arguments.role}"


def _remove(store: Any, arguments: argparse.Namespace) -> str:
    from grimcoil.service import people

    people.remove_person(store, people.COMMAND_LINE, arguments.login, datetime.now(UTC))
    return f"{arguments.login} can't sign in any more"


def _set_password(store: Any, arguments: argparse.Namespace) -> str:
    from grimcoil.service import people

    people.reset_password(store, people.COMMAND_LINE, arguments.login, _password(), datetime.now(UTC))
    return f"{arguments.login} has a new password; every sign-in ended"


def _list(store: Any, _arguments: argparse.Namespace) -> str:
    from grimcoil.service import people

    listed = people.people(store, people.COMMAND_LINE).people
    lines = [
        f"{p.login:20} {p.role:14} {p.name}"
        + (f", under {p.under_login}" if p.under_login else "")
        + (", removed" if p.removed_at else "")
        for p in listed
    ]
    return "\n".join(lines) or "nobody yet: grimcoil people add LOGIN --name NAME --role administrator"


WORK: dict[str, Callable[[Any, argparse.Namespace], str]] = {
    "add": _add,
    "role": _role,
    "remove": _remove,
    "password": _set_password,
    "list": _list,
}
