"""The computation: values in, values out. No web framework, database, network or clock.

As a library: read a tray and a picture, lay the tray out for a set-up, and mix.

    tray = core.read_tray(Path("mine.csv").read_bytes())
    picture = core.read_picture(Path("reference.jpg").read_bytes())
    seen = [core.read_spot(picture, core.Disc(0.4, 0.3, 0.01)).swatch.lab]
    (recipe,) = core.mix(core.lay_out(tray, core.Setup()), np.array(seen), ["light"])

or plan a whole figure in layers:

    plans = core.plan_figure(core.lay_out(tray, core.Setup()), [core.Spot("cheek", "cheek", "light", seen[0])])
    plans.of(plans.recommended).layers
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from core.errors import CaltinError, InputError
    from core.exchange.formats import FORMATS, FileFormat
    from core.exchange.tray_csv import read_tray, write_tray
    from core.layers.natural import Spot
    from core.layers.plan import Plan, Plans
    from core.look.picture import Picture, read_picture
    from core.look.reading import Disc, Outline, Reading, read_spot
    from core.look.study import Person, Study, study
    from core.optics.medium import Pass
    from core.optics.stick import Stick, Tray
    from core.optics.support import Support, supports
    from core.plan.layered import plan_figure
    from core.plan.setup import LaidOutTray, Setup, lay_out, lay_out_kit, usual_setup
    from core.plan.solve import mix
    from core.recipe.recipe import Recipe, work_out

_WHERE = {
    "core.errors": ("CaltinError", "InputError"),
    "core.exchange.formats": ("FORMATS", "FileFormat"),
    "core.exchange.tray_csv": ("read_tray", "write_tray"),
    "core.layers.natural": ("Spot",),
    "core.layers.plan": ("Plan", "Plans"),
    "core.look.picture": ("Picture", "read_picture"),
    "core.look.reading": ("Disc", "Outline", "Reading", "read_spot"),
    "core.look.study": ("Person", "Study", "study"),
    "core.optics.medium": ("Pass",),
    "core.optics.stick": ("Stick", "Tray"),
    "core.optics.support": ("Support", "supports"),
    "core.plan.layered": ("plan_figure",),
    "core.plan.setup": ("LaidOutTray", "Setup", "lay_out", "lay_out_kit", "usual_setup"),
    "core.plan.solve": ("mix",),
    "core.recipe.recipe": ("Recipe", "work_out"),
}
_HOME = {name: module for module, names in _WHERE.items() for name in names}

__all__ = [
    "FORMATS", "CaltinError", "Disc", "FileFormat", "InputError", "LaidOutTray", "Outline", "Pass", "Person",
    "Picture", "Plan", "Plans", "Reading", "Recipe", "Setup", "Spot", "Stick", "Study", "Support", "Tray", "lay_out",
    "lay_out_kit", "mix", "plan_figure", "read_picture", "read_spot", "read_tray", "study", "supports", "usual_setup",
    "work_out", "write_tray",
]  # fmt: skip


def __getattr__(name: str) -> Any:
    """A public name, loaded when it is first asked for: who needs one module does not load them all."""
    if name not in _HOME:
        raise AttributeError(f"module 'core' has no attribute {name!r}")
    return getattr(import_module(_HOME[name]), name)
