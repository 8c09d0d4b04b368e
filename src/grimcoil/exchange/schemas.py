"""JSON Schemas of the open formats, generated from the models. `docs/formats/` ships what this writes."""

from __future__ import annotations

import json

from grimcoil.exchange.models import Job


def schema_texts() -> dict[str, str]:
    """File name -> JSON text."""
    return {"grimcoil-job-1.schema.json": json.dumps(Job.model_json_schema(), indent=1, sort_keys=True) + "\n"}
