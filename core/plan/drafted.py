"""Layers by name, and the drafts of the search that stand for them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from core.colour.spaces import Floats
from core.errors import InputError
from core.layers.doses import NONE, scale_of
from core.layers.draft import Draft
from core.layers.hands import MOST_LAYERS
from core.layers.natural import Areas
from core.layers.plan import Expected, Layer
from core.optics.media import facts_of, get_medium
from core.optics.medium import MAX_REPEATS
from core.optics.touch import AS_DECLARED
from core.plan.laying import WORKED
from core.plan.setup import LaidOutTray


def layers_of(
    laid_out: LaidOutTray, draft: Draft, areas: Areas, held: Sequence[Layer] = (), medium: str = ""
) -> tuple[Layer, ...]:
    """A draft's layers by name; one that lies nowhere is none. held: those of which the draft was made, which have the
    first slots; they stay what they are. medium: that of the draft, the usual one by default."""
    scale, box = scale_of(medium or laid_out.setup.medium), laid_out.box_of(medium or laid_out.setup.medium)
    layers = []
    for slot, stick, doses in zip(draft.slots, draft.sticks, draft.doses, strict=True):
        if (doses == NONE).all():
            continue
        levels = tuple(None if dose == NONE else scale.doses[dose - 1] for dose in doses)
        code, most = box.sticks[stick].code, scale.doses[int(doses.max()) - 1]
        layer = Layer(code, most, levels, areas.called(doses != NONE))
        if slot < len(held):
            layer = replace(layer, technique=held[slot].technique, id=held[slot].id)
        layers.append(layer)
    return tuple(layers)


def draft_of(laid_out: LaidOutTray, layers: Sequence[Layer]) -> Draft:
    """Layers of the usual medium that lay something down, as the search knows them; see `check_layers`."""
    index = {stick.code: i for i, stick in enumerate(laid_out.box.sticks)}
    scale = scale_of(laid_out.setup.medium)
    rows = [[scale.index(dose) for dose in layer.levels] for layer in layers]
    doses = np.array(rows, dtype=np.intp).reshape(len(layers), -1)
    return Draft(tuple(index[layer.stick] for layer in layers), tuple(range(len(layers))), doses)


def check_layers(laid_out: LaidOutTray, layers: Sequence[Layer]) -> None:
    """Raises InputError (`too_many_layers`, `layer_without_its_stick`, `cannot_lie_over`, `bad_technique`, `bad_dose`;
    field `layers[i]…`) for the first layer that cannot be made as it says, such as one that was changed by hand."""
    if len(layers) >= MOST_LAYERS:
        raise InputError(
            "too_many_layers", f"{len(layers)} layers are too many.", f"Use at most {MOST_LAYERS - 1}.", "layers"
        )
    usual, below = laid_out.setup.medium, ""
    for number, layer in enumerate(layers):
        its = laid_out.kit.medium_of(layer.stick)
        box = laid_out.box_of(its) if its else None
        if box is None and layer.stick not in get_medium(below or usual).tools:
            raise _without_its_stick(number, layer)
        if box is not None and layer.stick not in {stick.code for stick in box.sticks}:
            raise _without_its_stick(number, layer)
        if its and below not in ("", its, *facts_of(its).over):
            above, lower = get_medium(its).name, get_medium(below).name.lower()
            raise InputError(
                "cannot_lie_over",
                f"Layer {number + 1} cannot lie there: {above.lower()} does not hold over {lower}.",
                "Move it before that one. The layers are as they were.",
                f"layers[{number}].stick",
            )
        below = its or below or usual
        _check_manner(number, layer, below)


def _check_manner(number: int, layer: Layer, medium_id: str) -> None:
    medium, scale = get_medium(medium_id), scale_of(medium_id)
    # What lifts colour off takes it from one place as seen, not from an area as planned.
    fitting = [way for way in medium.tools.get(layer.stick, medium.techniques) if way != "lift"]
    if layer.technique not in fitting:
        raise InputError(
            "bad_technique",
            f"Layer {number + 1} cannot be done that way with {layer.stick[:40]}.",
            f"Use {', '.join(fitting) or 'something else'}. The layers are as they were.",
            f"layers[{number}].technique",
        )
    if layer.technique != "lay" and any(dose.flicked for dose in layer.levels if dose):
        raise InputError(
            "bad_technique",
            f"Layer {number + 1} cannot be flicked and worked in at once.",
            "Lay it, or do not flick it. The layers are as they were.",
            f"layers[{number}].technique",
        )
    if layer.technique not in WORKED and not {dose for dose in layer.levels if dose} <= set(scale.doses):
        raise InputError(
            "bad_dose",
            f"Layer {number + 1} is laid in a way that this medium does not know.",
            f"Use {', '.join(medium.pressures)}, once to {MAX_REPEATS} times.",
            f"layers[{number}].levels",
        )


def _without_its_stick(number: int, layer: Layer) -> InputError:
    return InputError(
        "layer_without_its_stick",
        f"Layer {number + 1} needs {layer.stick[:40]}, which is not in the tray, or is banned.",
        "The layers are as they were: choose another for it, or allow this one.",
        f"layers[{number}].stick",
    )


def laid_of(layers: Sequence[Layer]) -> tuple[Layer, ...]:
    """Those of the layers that lay something down."""
    return tuple(layer for layer in layers if layer.technique not in WORKED)


def of_medium(laid_out: LaidOutTray, layers: Sequence[Layer]) -> tuple[Layer, ...]:
    """Those of the layers that lay something of the usual medium down."""
    return tuple(
        layer for layer in laid_of(layers) if laid_out.kit.medium_of(layer.stick) in ("", laid_out.setup.medium)
    )


def expected_of(laid_out: LaidOutTray, layers: Sequence[Layer], errors: Floats) -> Expected:
    """What is to be expected of layers with these errors (h, m) under each hand, the steady one first."""
    planned, by_hand = float(errors[0].mean()), float(errors[1:].mean())
    on_paper = float(np.hypot(by_hand, untried_of(laid_out, layers)))
    return Expected(round(planned, 2), round(by_hand, 2), round(on_paper, 2))


def untried_of(laid_out: LaidOutTray, layers: Sequence[Layer]) -> float:
    """ΔE00 by which layers are off because of what is not known of their sticks, in the mean of them."""
    by_code = {stick.code: stick for stick in laid_out.kit.sticks}
    used = [by_code[layer.stick] for layer in layers if layer.stick in by_code]
    off = [stick.fit.doubt if stick.fit != AS_DECLARED else facts_of(stick.medium).untried for stick in used]
    return sum(off) / max(1, len(used))
