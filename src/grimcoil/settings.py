"""Settings from the environment (`GRIMCOIL_…`). `docs/settings.md` has a line for each."""

from __future__ import annotations

from pydantic import Field, SecretStr
from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    """Everything a start can set."""

    model_config = SettingsConfigDict(env_prefix="GRIMCOIL_", extra="ignore")

    database_url: SecretStr = Field(default=SecretStr("mysql+mysqldb://grimcoil@localhost/grimcoil?charset=utf8mb4"))
    host: str = "127.0.0.1"
    port: int = Field(default=8470, ge=1, le=65535)
    workers: int = Field(default=2, ge=1, le=64)
    pool_size: int = Field(default=10, ge=1, le=200)
    allowed_hosts: list[str] = ["127.0.0.1", "localhost"]
    https: bool = False
    trusted_proxies: list[str] = []
    metrics_token: SecretStr | None = None
    instrument_hosts: list[str] = ["127.0.0.1"]
    demo: bool = False
