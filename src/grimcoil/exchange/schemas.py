"""JSON Schemas of the open formats, generated from the models. `docs/formats/` ships what this writes."""

from __future__ import annotations

import json

from pydantic import BaseModel

from grimcoil.exchange.connections import Asked
from grimcoil.exchange.criteria import CriteriaFile
from grimcoil.exchange.drying import DryingFile
from grimcoil.exchange.histories import History
from grimcoil.exchange.jobs import Job
from grimcoil.exchange.leads import Leads
from grimcoil.exchange.money import MoneyCase
from grimcoil.exchange.sheets.mapping import SheetMap
from grimcoil.exchange.tasks import TaskList
from grimcoil.exchange.walks import WalkFile

MODELS: dict[str, type[BaseModel]] = {
    "grimcoil-job-1": Job,
    "grimcoil-history-1": History,
    "grimcoil-connect-1": Asked,
    "grimcoil-criteria-1": CriteriaFile,
    "grimcoil-leads-1": Leads,
    "grimcoil-money-1": MoneyCase,
    "grimcoil-walk-1": WalkFile,
    "grimcoil-map-1": SheetMap,
    "grimcoil-drying-1": DryingFile,
    "grimcoil-tasks-1": TaskList,
}


def schema_texts() -> dict[str, str]:
    """File name -> JSON text."""
    return {
        f"{name}.schema.json": json.dumps(model.model_json_schema(), indent=1, sort_keys=True) + "\n"
        for name, model in MODELS.items()
    }
