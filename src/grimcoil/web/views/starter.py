"""The sheet of a starter: its form, its diagram, its checks."""

from __future__ import annotations

from grimcoil.core.choices import Starter
from grimcoil.draw.starter import HEIGHT, WIDTH, starter_diagram
from grimcoil.draw.svg import figure
from grimcoil.service.starters import StarterView
from grimcoil.web.views.record import YES_NO, Field, Section, listed

SECTIONS = (
    Section(
        "Starter",
        (
            Field("starter", "Kind", options=listed(Starter)),
            Field("starts_per_hour", "Starts", "an hour"),
            Field("start_a", "Amps at a direct start", "A"),
            Field("run_up_s", "Run-up", "s"),
            Field("undervoltage_release", "Stays out after a loss of volts", options=YES_NO),
        ),
    ),
    Section(
        "Star-delta, autotransformer",
        (
            Field("timer_s", "Timer", "s"),
            Field("line_a_star", "Line amps in star", "A"),
            Field("line_a_delta", "In delta at the same slip", "A"),
            Field("tap_percent", "Tap", "% of full volts"),
        ),
    ),
    Section(
        "Coil, control transformer, fuses",
        (
            Field("coil_v", "Coil", "V"),
            Field("control_primary_v", "Transformer joined for", "V"),
            Field("control_va", "Transformer", "VA"),
            Field("control_fuse_a", "Control fuse", "A"),
            Field("fuse_a", "Fuses of the lines", "A"),
        ),
    ),
)


def diagram(view: StarterView) -> str:
    """The one-line diagram, one size for every screen."""
    on = view.on
    words = "" if on.overload.dial_a is None else f"dial {on.overload.dial_a:g} A"
    label = f"One-line diagram of a {on.starter.value.replace('-', ' ')} starter"
    return figure(
        WIDTH, HEIGHT, label, starter_diagram(on.starter, on.fused, words), "starter-drawing", "xMidYMin meet"
    )
