"""Three nodes of one database in a folder of their own: started, stopped, killed, cut off and healed.

With network namespaces each node has an address of its own and can be cut off; without, all are on loopback.
"""

from __future__ import annotations

import os
import re
import shutil
import signal
import socket
import subprocess
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from pathlib import Path
from threading import Event

import MySQLdb

PROVIDER = "/usr/lib/galera/libgalera_smm.so"
NET = "10.213.77"  # of no network here: a bridge of its own
BRIDGE = "gcbridge"
PATIENCE_S = 90.0


def may_have_namespaces() -> bool:
    """Whether namespaces and a bridge may be made here, and nobody asked for loopback alone."""
    if os.geteuid() != 0 or shutil.which("ip") is None or os.environ.get("GRIMCOIL_CLUSTER_LOOPBACK"):
        return False
    made = subprocess.run(["ip", "link", "add", BRIDGE, "type", "bridge"], capture_output=True, check=False)
    named = subprocess.run(["ip", "netns", "add", "gctry"], capture_output=True, check=False)
    subprocess.run(["ip", "netns", "del", "gctry"], capture_output=True, check=False)
    subprocess.run(["ip", "link", "del", BRIDGE], capture_output=True, check=False)
    return made.returncode == 0 and named.returncode == 0


def until(what: Callable[[], bool], words: str, patience_s: float = PATIENCE_S) -> float:
    """Wait for something outside of this process; returns how long it took, s."""
    begun = time.monotonic()
    while not what():
        if time.monotonic() - begun > patience_s:
            raise TimeoutError(words)
        Event().wait(0.1)
    return time.monotonic() - begun


@dataclass
class Node:
    """One server. address: where it listens; space: its network namespace, none on loopback."""

    folder: Path
    address: str
    ports: tuple[int, int, int, int]  # server, group, incremental state, whole copy
    space: str = ""
    process: subprocess.Popen[bytes] | None = field(default=None, repr=False)

    @property
    def port(self) -> int:
        """Where it is asked."""
        return self.ports[0]

    def settings(self, group: str, copying: Path) -> None:
        """Its file of settings."""
        _, base, steps, copy = self.ports
        options = f"gmcast.listen_addr=tcp://{self.address}:{base};ist.recv_addr={self.address}:{steps};gcache.size=32M"
        lines = {
            "datadir": self.folder / "data", "socket": self.folder / "db.sock", "pid-file": self.folder / "db.pid",
            "tmpdir": self.folder / "tmp", "port": self.port, "bind-address": self.address, "skip-name-resolve": 1,
            "lc-messages-dir": "/usr/share/mysql", "character-set-server": "utf8mb4",
            "collation-server": "utf8mb4_uca1400_ai_ci", "default-time-zone": "+00:00", "max-connections": 200,
            "transaction-isolation": "READ-COMMITTED", "innodb-snapshot-isolation": 1,
            "innodb-flush-log-at-trx-commit": 0, "innodb-flush-method": "nosync", "innodb-doublewrite": 0,
            "innodb-log-file-size": "16M", "innodb-buffer-pool-size": "96M", "binlog-format": "ROW",
            "innodb-autoinc-lock-mode": 2, "log-bin-trust-function-creators": 1, "wsrep-on": "ON",
            "wsrep-provider": PROVIDER, "wsrep-provider-options": f'"{options}"', "wsrep-slave-threads": 2,
            "wsrep-cluster-name": "grimcoil", "wsrep-cluster-address": f"gcomm://{group}",
            "wsrep-node-address": f"{self.address}:{base}",
            "wsrep-node-incoming-address": f"{self.address}:{self.port}",
            "wsrep-sst-method": "mariabackup", "wsrep-sst-auth": "root:",
            "wsrep-sst-receive-address": f"{self.address}:{copy}",
        }  # fmt: skip
        text = "\n".join(f"{name}={value}" for name, value in lines.items())
        (self.folder / "my.cnf").write_text(f"[mariadbd]\n{text}\n")
        (self.folder / "path").write_text(f"{copying}:{os.environ['PATH']}")

    def start(self, *more: str) -> None:
        """Begin; it isn't a part of the cluster yet when this returns."""
        within = ["ip", "netns", "exec", self.space] if self.space else []
        given = ["mariadbd", f"--defaults-file={self.folder / 'my.cnf'}", "--user=root", *more]
        with (self.folder / "db.log").open("ab") as log:
            surroundings = os.environ | {"PATH": (self.folder / "path").read_text() + ":/usr/sbin"}
            self.process = subprocess.Popen(
                [*within, *given], stdout=log, stderr=log, start_new_session=True, env=surroundings
            )

    def recover(self) -> None:
        """Begin again after it was killed, from where it stood."""
        given = ["mariadbd", f"--defaults-file={self.folder / 'my.cnf'}", "--user=root", "--wsrep-recover"]
        log = self.folder / "recover.log"
        subprocess.run([*given, f"--log-error={log}"], check=True, capture_output=True, timeout=PATIENCE_S)
        found = re.findall(r"Recovered position:? ?([0-9a-f-]+:-?\d+)", log.read_text())
        self.start(*([f"--wsrep-start-position={found[-1]}"] if found else []))

    def ask(self, statement: str) -> list[tuple[str, ...]]:
        """By its socket, whatever its network does. Raises MySQLdb.Error."""
        connection = MySQLdb.connect(unix_socket=str(self.folder / "db.sock"), user="root", connect_timeout=2)
        try:
            with connection.cursor() as cursor:
                cursor.execute(statement)
                return list(cursor.fetchall())
        finally:
            connection.close()

    def state(self) -> str:
        """`Primary Synced 3`; nothing while it is away."""
        names = ("wsrep_cluster_status", "wsrep_local_state_comment", "wsrep_cluster_size")
        try:
            told = {str(row[0]).lower(): row[1] for row in self.ask("SHOW GLOBAL STATUS LIKE 'wsrep_%'")}
        except MySQLdb.Error:
            return ""
        return " ".join(str(told.get(name, "")) for name in names)

    def synced(self, count: int) -> float:
        """Wait until it is a part of so many; returns how long it took, s."""
        return until(lambda: self.state() == f"Primary Synced {count}", f"{self.folder.name}: {self.state()}")

    def stop(self) -> None:
        """In order."""
        self._end(signal.SIGTERM)

    def kill(self) -> None:
        """As if its plug were pulled."""
        self._end(signal.SIGKILL)

    def _end(self, how: signal.Signals) -> None:
        if self.process is not None and self.process.poll() is None:
            pid = int((self.folder / "db.pid").read_text()) if (self.folder / "db.pid").exists() else self.process.pid
            with suppress(ProcessLookupError):
                os.kill(pid, how)
            try:
                self.process.wait(60)
            except subprocess.TimeoutExpired:
                os.killpg(self.process.pid, signal.SIGKILL)
                self.process.wait(10)
        self.process = None

    def hang(self) -> None:
        """It stops in the middle of everything, and the others don't hear of it."""
        os.kill(int((self.folder / "db.pid").read_text()), signal.SIGSTOP)

    def go_on(self) -> None:
        """As if nothing had been."""
        os.kill(int((self.folder / "db.pid").read_text()), signal.SIGCONT)

    def cut_off(self) -> None:
        """Take its link down."""
        subprocess.run(["ip", "link", "set", f"{self.space}b", "down"], check=True)

    def heal(self) -> None:
        """Its link again."""
        subprocess.run(["ip", "link", "set", f"{self.space}b", "up"], check=True)


def _free_ports(address: str, count: int) -> list[int]:
    held = [socket.socket() for _ in range(count)]
    try:
        for one in held:
            one.bind((address, 0))
        return [one.getsockname()[1] for one in held]
    finally:
        for one in held:
            one.close()


def _ip(*words: str) -> None:
    subprocess.run(["ip", *words], check=True, capture_output=True)


@contextmanager
def _spaces(count: int) -> Iterator[list[str]]:
    """Network namespaces on a bridge, this machine at `.1` of it."""
    names = [f"gcnode{number}" for number in range(1, count + 1)]
    _forget(names)
    try:
        _ip("link", "add", BRIDGE, "type", "bridge")
        _ip("addr", "add", f"{NET}.1/24", "dev", BRIDGE)
        _ip("link", "set", BRIDGE, "up")
        for number, name in enumerate(names, 11):
            _ip("netns", "add", name)
            _ip("link", "add", f"{name}b", "type", "veth", "peer", "name", "eth0", "netns", name)
            _ip("link", "set", f"{name}b", "master", BRIDGE, "up")
            _ip("-n", name, "addr", "add", f"{NET}.{number}/24", "dev", "eth0")
            _ip("-n", name, "link", "set", "eth0", "up")
            _ip("-n", name, "link", "set", "lo", "up")
        yield names
    finally:
        _forget(names)


def _forget(names: list[str]) -> None:
    for name in names:
        subprocess.run(["ip", "link", "del", f"{name}b"], capture_output=True, check=False)
        subprocess.run(["ip", "netns", "del", name], capture_output=True, check=False)
    subprocess.run(["ip", "link", "del", BRIDGE], capture_output=True, check=False)


def _made(folder: Path, name: str, address: str, ports: list[int], space: str) -> Node:
    own = folder / name
    (own / "tmp").mkdir(parents=True)
    (own / "data").mkdir()
    server, base, steps, copy = ports
    return Node(own, address, (server, base, steps, copy), space)


@contextmanager
def three_nodes(folder: Path, copying: Path) -> Iterator[list[Node]]:
    """The first started anew, the others taking its whole copy. copying: where the scripts of state transfer are."""
    spaces = _spaces(3) if may_have_namespaces() else None
    names = spaces.__enter__() if spaces else ["", "", ""]
    nodes: list[Node] = []
    try:
        for number, space in enumerate(names):
            address = f"{NET}.{11 + number}" if space else "127.0.0.1"
            ports = [3306, 4567, 4568, 4444] if space else _free_ports(address, 4)
            nodes.append(_made(folder, f"node{number + 1}", address, ports, space))
        group = ",".join(f"{node.address}:{node.ports[1]}" for node in nodes)
        for node in nodes:
            node.settings(group, copying)
        subprocess.run(
            [
                "mariadb-install-db", "--no-defaults", "--user=root", f"--datadir={nodes[0].folder / 'data'}",
                "--skip-test-db", "--auth-root-authentication-method=socket",
            ],
            check=True, capture_output=True,
        )  # fmt: skip
        nodes[0].start("--wsrep-new-cluster")
        nodes[0].synced(1)
        for count, node in enumerate(nodes[1:], 2):
            node.start()
            node.synced(count)
        yield nodes
    finally:
        for node in reversed(nodes):
            node.kill()
        if spaces:
            spaces.__exit__(None, None, None)
