"""`python -m demo`: migrate, and fill an empty database once."""

from __future__ import annotations

import sys
from datetime import UTC, datetime

from sqlalchemy.exc import OperationalError, ProgrammingError

from demo.drying import seed_drying
from demo.rounds import seed_rounds
from demo.scenario import add_people, seed
from demo.works import PASSWORD, PIN, SIGN_INS
from grimcoil.service.earlier import keep_earlier
from grimcoil.settings import Settings
from grimcoil.store import motors
from grimcoil.store.engine import make_engine, make_store
from grimcoil.store.people import everyone
from grimcoil.store.schema import upgrade


def main() -> int:
    """0 when the demo data are there; 1 with a line on standard error where they can't be made."""
    engine = make_engine(Settings().database_url.get_secret_value())
    try:
        upgrade(engine)
        store, fresh = make_store(engine), False
        with store.begin() as session:
            if motors.site(session) is None:
                made, fresh = seed(session, datetime.now(UTC)), True
                print(f"grimcoil: made {made} motors with their years of tests", file=sys.stderr)
            elif not everyone(session):
                add_people(session, datetime.now(UTC))  # a demo from before there were sign-ins
        keep_earlier(store, datetime.now(UTC))
        if fresh:
            seed_drying(store, datetime.now(UTC))
            seed_rounds(store, datetime.now(UTC))
    except (OperationalError, ProgrammingError) as error:
        print(f"grimcoil: the demo data could not be made: {error.orig}", file=sys.stderr)
        return 1
    finally:
        engine.dispose()
    print("grimcoil: sign in as " + ", ".join(f"{login} ({role})" for login, _, role, _ in SIGN_INS), file=sys.stderr)
    print(
        f"grimcoil: the password of all of them is {PASSWORD}; on an enrolled tablet the PIN is {PIN}", file=sys.stderr
    )
    return 0


if __name__ == "__main__":
    sys.exit(main())
