"""Trays changed by hand: every change is a step with a name, and can be undone and done again."""

from __future__ import annotations

import json
import re
import zlib
from collections.abc import Callable, Sequence
from dataclasses import replace
from uuid import UUID

from django.contrib.auth.models import User
from django.db import transaction

from core.colour.spaces import hex_to_lab
from core.colour.swatch import Swatch
from core.colour.turned import SHIFTS, shifted
from core.colour.words import closeness
from core.errors import InputError
from core.exchange.formats import get_format
from core.exchange.list_file import ListFile, list_in
from core.exchange.pen import FileKind
from core.exchange.stick_list import StickList, read_list
from core.exchange.swatch_page import write_swatch_sheet
from core.method.manner import manner
from core.optics.stick import Stick
from core.optics.stick import Tray as CoreTray
from core.plan.questions import Owned, replacement_for
from core.plan.setup import lay_out_kit, usual_setup
from core.recipe.cautions import cautions_of
from core.recipe.recipe import work_out
from core.tray import editing
from core.tray.editing import StickChange
from core.tray.stand_in import StandIn, under_skin
from core.tray.stand_in import stand_ins as best_for
from server.api.jobs import Step, jobs
from server.api.memo import digest
from server.api.names import file_name
from server.api.values import decode, encode
from server.materials import services, values
from server.materials.models import Tray, TrayStep

FILES = {kind: get_format("tray", f"tray.{kind}") for kind in ("csv", "json", "xlsx", "ods", "gpl", "txt", "cxf")}
"""What a tray is taken along as, the usual first: the last three are palette, CGATS.17 and CxF3."""
KEPT_STEPS = 60
_FROM_EACH = 2
"""How many stand-ins are told of each box and range."""
_HEX = re.compile(r"#?[0-9a-fA-F]{6}")
_SAID = 3
"""How many sticks the name of a step names."""


def read(user: User, asked: values.AskList) -> StickList:
    """The sticks in a list; nothing is stored. Raises what `read_list` raises, InputError (`no_range`)."""
    within = services.get_range(asked.range) if asked.range else None
    return read_list(asked.text, asked.medium, asked.columns or None, within)


def file(data: bytes) -> ListFile:
    """The list in a file of whatever kind; nothing is stored. Raises what core.exchange.list_file.list_in raises."""
    return jobs.wait(digest("list in a file", data), Step(list_in, (data,)))


def stand_ins(user: User, tray_id: UUID, code: str, paper: str) -> list[values.StandIn]:
    """What stands in for a stick of this box, in every other box and in every range, the nearest first; elsewhere in
    this box as well. Raises NotFoundError (`no_tray`, `no_stick`, `no_paper`)."""
    tray = services.get_tray(user, tray_id)
    held = services.as_core(tray)
    ((wanted, _),) = editing.some_of(held, [code])
    under = under_skin([stick for stick in held.sticks if stick.medium == wanted.medium and not stick.colourless])
    support = services.paper_for(user, paper, wanted.medium)
    others = [(other.name, services.as_core(other)) for other in services.trays_of(user) if other.pk != tray.pk]
    others += [(row.name, row) for row in services.ranges().values()]
    found: dict[tuple[str, str, str], tuple[StandIn, list[str]]] = {}
    for name, place in [("", held), *others]:
        sticks = [stick for stick in place.usable(wanted.medium) if not _same(stick, wanted) and not stick.colourless]
        for row in best_for(wanted, sticks, support, under, _FROM_EACH):
            places = found.setdefault((row.stick.code, row.stick.name, row.stick.hex), (row, []))[1]
            if name not in places:
                places.append(name)
    return [_stand_in(row, places) for row, places in sorted(found.values(), key=lambda each: each[0].off)]


def mixed(user: User, tray_id: UUID, code: str, paper: str) -> values.Mixed:
    """The best mix of the others of its kind in the place of a stick. Raises NotFoundError (`no_tray`, `no_stick`,
    `no_paper`), InputError (`all_banned`, or what core.plan.setup.lay_out raises)."""
    tray = services.as_core(services.get_tray(user, tray_id))
    ((wanted, _),) = editing.some_of(tray, [code])
    support = services.paper_for(user, paper, wanted.medium)
    others = tuple(stick for stick in tray.usable(wanted.medium) if stick.code != code)
    setup = replace(usual_setup(wanted.medium), paper=support.id)
    question = (Owned(others, setup, support), wanted)
    (passes,) = jobs.do(digest("mixed", question), [Step(replacement_for, question)])
    kit = lay_out_kit(CoreTray("", others), setup, support)
    made = work_out(kit, passes, wanted.lab)
    names = {stick.code: stick.name for stick in others}
    laid = [step.pass_ for step in made.steps]
    return values.Mixed(
        layers=tuple(
            f"{one.stick} {names.get(one.stick, '')}, {manner(one, kit.medium_of(one.stick) or wanted.medium)}"
            for one in laid
        ),
        off=round(made.delta_e, 1),
        words=closeness(made.delta_e),
        wanted=Swatch.of(wanted.lab),
        swatch=made.result,
    )


def shifts(hex_code: str) -> list[values.ShiftedColour]:
    """Colours a visible step from one. Raises InputError (`bad_hex`)."""
    if not _HEX.fullmatch(hex_code):
        raise InputError("bad_hex", f"“{hex_code[:20]}” is no colour code.", "Write six hex digits.", "hex")
    lab = hex_to_lab(f"#{hex_code.lstrip('#')}")
    return [values.ShiftedColour(way, Swatch.of_hex(Swatch.of(shifted(lab, way)).hex)) for way in SHIFTS]


def _same(one: Stick, other: Stick) -> bool:
    return (one.code, one.hex) == (other.code, other.hex)


def lesson(user: User, tray_id: UUID, asked: values.AskList, paper: str) -> list[values.ForLesson]:
    """For every stick of somebody's list one's own that stands in for it. Raises what `read` raises, NotFoundError."""
    held = services.as_core(services.get_tray(user, tray_id))
    said = []
    for row in read(user, asked).sticks:
        wanted = Stick(row.code, row.name, row.medium, row.hex, row.opacity) if row.medium and row.hex else None
        rows: list[StandIn] = []
        if wanted:
            own = [stick for stick in held.usable(wanted.medium) if not stick.colourless]
            support = services.paper_for(user, paper, wanted.medium)
            rows = best_for(wanted, own, support, under_skin(own), _FROM_EACH)
        said.append(values.ForLesson(row, tuple(_stand_in(found, [""]) for found in rows)))
    return said


def _stand_in(row: StandIn, places: Sequence[str]) -> values.StandIn:
    """places: names, nothing for the box that was asked about."""
    stick, elsewhere = row.stick, tuple(name for name in places if name)
    return values.StandIn(
        here="" in places,
        places=elsewhere,
        code=stick.code,
        name=stick.name,
        medium=stick.medium,
        off=round(row.off, 1),
        value=round(row.value, 1),
        words=row.words,
        cautions=tuple(caution.text for caution in cautions_of(stick)),
        swatch=Swatch.of(stick.lab),
    )


def settings(user: User, tray_id: UUID, asked: values.TrayChange) -> Tray:
    """The tray under another name, or in rows of another length. Raises NotFoundError, InputError (`bad_row`)."""
    name, per_row = asked.name, asked.per_row

    def change(tray: CoreTray) -> CoreTray:
        return replace(tray, name=name or tray.name, per_row=tray.per_row if per_row is None else per_row)

    return _step(user, tray_id, f"renamed to “{name[:60]}”" if name else "rows of the box", change)


def put(user: User, tray_id: UUID, asked: values.PutSticks) -> Tray:
    """Sticks put into a tray, or the colours of those that are in it. Raises what core.tray.editing.put raises."""
    rows = [stick.as_core() for stick in asked.sticks]
    if asked.again:
        colours = f"colours of {_named([stick.code for stick, _ in rows])}"
        return _step(user, tray_id, colours, lambda tray: editing.recoloured(tray, rows))
    said = f"put in {_named([stick.code for stick, _ in rows])}"
    return _step(user, tray_id, said, lambda tray: editing.put(tray, rows))


def change(user: User, tray_id: UUID, codes: Sequence[str], change: StickChange) -> Tray:
    """Something changed about sticks. Raises what core.tray.editing.changed raises."""
    return _step(user, tray_id, _what(change, codes), lambda tray: editing.changed(tray, codes, change))


def take_away(user: User, tray_id: UUID, codes: Sequence[str]) -> Tray:
    """Sticks taken out of a tray. Raises NotFoundError (`no_stick`)."""
    return _step(user, tray_id, f"took away {_named(codes)}", lambda tray: editing.without(tray, codes))


def put_in_order(user: User, tray_id: UUID, codes: Sequence[str]) -> Tray:
    """The sticks in another order. Raises what core.tray.editing.ordered raises."""
    return _step(user, tray_id, "order of the box", lambda tray: editing.ordered(tray, codes))


@transaction.atomic
def move(user: User, tray_id: UUID, asked: values.MoveSticks) -> Tray:
    """Sticks brought into another tray, or a new one, and out of this one unless they are to stay; that other tray.

    Raises what core.tray.editing raises, InputError (`too_many_trays`), NotFoundError.
    """
    here = services.get_tray(user, tray_id)
    rows = editing.some_of(services.with_everything(here), asked.codes)
    named = _named(asked.codes)
    if asked.to is None:
        there = services.keep_tray(user, asked.name or here.name, [stick for stick, _ in rows], [k for _, k in rows])
        there.per_row = here.per_row
        there.save()
    else:
        there = services.get_tray(user, asked.to)
        said = f"put in {named} of “{here.name[:40]}”"
        there = _step(user, there.pk, said, lambda tray: editing.put(tray, rows))
    if not asked.keep:
        said = f"moved {named} to “{there.name[:40]}”"
        _step(user, tray_id, said, lambda tray: editing.without(tray, asked.codes))
    return services.get_tray(user, there.pk)


@transaction.atomic
def undo(user: User, tray_id: UUID) -> tuple[Tray, str]:
    """The tray before its last step, and what that was. Raises InputError (`nothing_to_undo`)."""
    tray = services.get_tray(user, tray_id)
    step = tray.steps.filter(number=tray.at - 1).first() if tray.at else None
    if step is None:
        raise InputError("nothing_to_undo", "There is nothing to undo in this box.", "", "tray")
    return _write(user, tray, _unpacked(step.before), tray.at - 1), step.said


@transaction.atomic
def redo(user: User, tray_id: UUID) -> tuple[Tray, str]:
    """The tray after the step that was undone last, and what that was. Raises InputError (`nothing_to_redo`)."""
    tray = services.get_tray(user, tray_id)
    step = tray.steps.filter(number=tray.at).first()
    if step is None:
        raise InputError("nothing_to_redo", "There is nothing to do again in this box.", "", "tray")
    return _write(user, tray, _unpacked(step.after), tray.at + 1), step.said


def file_of(user: User, tray_id: UUID, kind: str) -> tuple[bytes, str, str]:
    """The tray as a file of a kind in FILES, its name and its media type. Raises NotFoundError (`no_tray`)."""
    tray = services.get_tray(user, tray_id)
    file_format = FILES[kind]
    assert file_format.write is not None  # trays go both ways
    name = f"{file_name(tray.name, 'tray')}.{kind}"
    return file_format.write(services.with_everything(tray)), name, file_format.media_type


def swatch_sheet(user: User, tray_id: UUID, paper: str, kind: FileKind) -> tuple[bytes, str]:
    """A sheet to lay swatches of a tray's sticks on, and its name. Raises NotFoundError (`no_tray`), InputError
    (`unknown_size`)."""
    tray = services.get_tray(user, tray_id)
    sticks = services.as_core(tray).sticks
    return write_swatch_sheet(paper, sticks, tray.name, kind), f"{file_name(tray.name, 'tray')}-{paper}"


@transaction.atomic
def _step(user: User, tray_id: UUID, said: str, change: Callable[[CoreTray], CoreTray]) -> Tray:
    """The tray changed, and the change remembered; what changes nothing is no step."""
    tray = services.get_tray(user, tray_id)
    before = services.with_everything(tray)
    after = change(before)
    if after == before:
        return tray
    tray.steps.filter(number__gte=tray.at).delete()
    tray.steps.filter(number__lt=tray.at + 1 - KEPT_STEPS).delete()
    TrayStep.objects.create(tray=tray, number=tray.at, said=said[:120], before=_packed(before), after=_packed(after))
    return _write(user, tray, after, tray.at + 1)


def _write(user: User, tray: Tray, held: CoreTray, at: int) -> Tray:
    tray.name, tray.per_row, tray.at = held.name, held.per_row, at
    tray.save()
    services.store_sticks(tray, held)
    return services.get_tray(user, tray.pk)


def _packed(tray: CoreTray) -> bytes:
    return zlib.compress(json.dumps(encode(CoreTray, tray)).encode())


def _unpacked(data: bytes | memoryview) -> CoreTray:
    return decode(CoreTray, json.loads(zlib.decompress(data)))


def _named(codes: Sequence[str]) -> str:
    more = f" and {len(codes) - _SAID} more" if len(codes) > _SAID else ""
    return ", ".join(code[:20] for code in codes[:_SAID]) + more


_WORDS = {"good": "here", "low": "nearly gone", "dried_out": "dried out", "wanted": "wanted"}


def _what(change: StickChange, codes: Sequence[str]) -> str:
    named = _named(codes)
    if change.condition is not None:
        return f"{named} {_WORDS.get(change.condition, change.condition)}"
    asked = [field for field in ("code", "name", "hex", "count", "note", "feel") if getattr(change, field) is not None]
    words = {"code": "number", "hex": "colour", "feel": "feel"}
    return f"{' and '.join(words.get(field, field) for field in asked) or 'facts'} of {named}"
