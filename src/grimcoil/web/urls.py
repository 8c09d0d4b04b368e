"""Every address of the application in one class."""

from __future__ import annotations

from urllib.parse import quote, urlencode


class Urls:
    """Addresses, for routers and templates alike."""

    today = "/"
    motors = "/motors"
    new_motor = "/motors/new"
    jobs = "/jobs"
    leads = "/leads"
    connection = "/connection"
    connection_svg = "/connection.svg"
    new_winding = "/connection/winding"
    start = "/jobs/start"
    theme = "/theme"
    health = "/healthz"
    ready = "/readyz"

    @staticmethod
    def motor(tag: str) -> str:
        """A motor's page."""
        return f"/motors/{quote(tag, safe='')}"

    @staticmethod
    def start_for(tag: str) -> str:
        """The form that starts a job on a motor."""
        return f"/jobs/start?{urlencode({'tag': tag})}"

    @staticmethod
    def job(job_id: int, at: str = "") -> str:
        """The bench, at the next place or at one of choice."""
        return f"/jobs/{job_id}" + (f"?{urlencode({'at': at})}" if at else "")

    @staticmethod
    def act(job_id: int, verb: str) -> str:
        """Something done to a job: keep, take-back, overrule, decide, sign."""
        return f"/jobs/{job_id}/{verb}"

    @staticmethod
    def sheet(job_id: int) -> str:
        """The printed sheet."""
        return f"/jobs/{job_id}/sheet"
