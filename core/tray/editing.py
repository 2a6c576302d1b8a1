"""A tray changed: sticks put in, changed, taken away, set in order.

Every function gives another tray, or says what cannot be and leaves all as it was.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace

from core.errors import InputError, NotFoundError
from core.optics.media import get_medium
from core.optics.stick import CONDITIONS, FEELS, OPACITIES, SOURCES, Kept, Stick, Tray

MAX_STICKS = 400
MAX_LENGTH, MAX_NOTE = 80, 300
"""Characters."""
MOST_COUNT = 99
MOST_PRICE, MOST_SETS = 9999.0, 20
MOST_PER_ROW = 60
_HEX = re.compile(r"#[0-9a-f]{6}")
_SAID = 5
"""How many codes are named in a sentence."""


@dataclass(frozen=True, slots=True)
class StickChange:
    """What is to be another way about sticks; None for what stays."""

    code: str | None = None
    name: str | None = None
    medium: str | None = None
    hex: str | None = None
    opacity: str | None = None
    range: str | None = None
    condition: str | None = None
    count: int | None = None
    note: str | None = None
    feel: tuple[str, ...] | None = None
    source: str | None = None


_OF_KEPT = {field.name for field in fields(Kept)}


def put(tray: Tray, new: Sequence[tuple[Stick, Kept]]) -> Tray:
    """The tray with these sticks at its end; one that is there already, just so, is not put in again.

    Raises InputError (`double_code`, `too_many_sticks`, or what `check` raises).
    """
    held = dict(zip((stick.code for stick in tray.sticks), tray.sticks, strict=True))
    codes = [stick.code for stick, _ in new]
    taken = {stick.code for stick, _ in new if stick.code in held and held[stick.code] != stick}
    twice = {code for code in codes if codes.count(code) > 1}
    if both := sorted(taken | twice):
        raise InputError(
            "double_code",
            f"{_listed(both)} {'is' if len(both) == 1 else 'are'} in this box already, or twice in the list.",
            "Give each a number of its own. Nothing was put in.",
            "code",
        )
    for stick, kept in new:
        check(stick, kept)
    fresh = [(stick, kept) for stick, kept in new if stick.code not in held]
    size = len(tray.sticks) + len(fresh)
    if size > MAX_STICKS:
        raise InputError(
            "too_many_sticks",
            f"The box would hold {size} of them.",
            f"Keep it to {MAX_STICKS}: begin another one. Nothing was put in.",
            "sticks",
        )
    sticks = (*tray.sticks, *(stick for stick, _ in fresh))
    return replace(tray, sticks=sticks, kept=(*_kept(tray), *(kept for _, kept in fresh)))


def recoloured(tray: Tray, new: Sequence[tuple[Stick, Kept]]) -> Tray:
    """The tray with the colours of these sticks, and how they are known, where it holds their numbers; the others put
    in. Raises what `put` and `changed` raise."""
    held = {stick.code for stick in tray.sticks}
    for stick, kept in new:
        if stick.code in held:
            tray = changed(tray, [stick.code], StickChange(hex=stick.hex, source=kept.source))
    rest = [row for row in new if row[0].code not in held]
    return put(tray, rest) if rest else tray


def changed(tray: Tray, codes: Sequence[str], change: StickChange) -> Tray:
    """The tray with something changed about sticks. Raises NotFoundError (`no_stick`), InputError (`double_code`,
    `one_at_a_time`, or what `check` raises)."""
    _there(tray, codes)
    if change.code is not None and len(codes) != 1:
        raise InputError("one_at_a_time", "Two of them cannot have one number.", "Change one at a time.", "code")
    if change.code is not None and change.code != codes[0] and change.code in {stick.code for stick in tray.sticks}:
        raise InputError("double_code", f"{change.code} is in this box already.", "Use another number.", "code")
    asked = {field.name: held for field in fields(change) if (held := getattr(change, field.name)) is not None}
    of_kept = {name: held for name, held in asked.items() if name in _OF_KEPT}
    of_stick: dict[str, object] = {name: held for name, held in asked.items() if name not in _OF_KEPT}
    if "hex" in of_stick:
        # What was measured of another colour no longer holds.
        of_stick |= {"spectrum": (), "light_hex": "", "heavy_hex": "", "black_hex": ""}
    sticks, kept = list(tray.sticks), list(_kept(tray))
    for i, stick in enumerate(tray.sticks):
        if stick.code in codes:
            sticks[i], kept[i] = replace(stick, **of_stick), replace(kept[i], **of_kept)  # type: ignore[arg-type]
            check(sticks[i], kept[i])
    return replace(tray, sticks=tuple(sticks), kept=tuple(kept))


def without(tray: Tray, codes: Sequence[str]) -> Tray:
    """The tray with these sticks taken away. Raises NotFoundError (`no_stick`)."""
    _there(tray, codes)
    rows = [row for row in zip(tray.sticks, _kept(tray), strict=True) if row[0].code not in codes]
    return replace(tray, sticks=tuple(stick for stick, _ in rows), kept=tuple(kept for _, kept in rows))


def ordered(tray: Tray, codes: Sequence[str]) -> Tray:
    """The tray with these sticks first, in this order, and the others after them as they were. Raises InputError
    (`bad_order`) for one that is named twice, NotFoundError (`no_stick`)."""
    _there(tray, codes)
    if len(set(codes)) < len(codes):
        raise InputError("bad_order", "One is named twice.", "Name each once.", "codes")
    rows: Mapping[str, tuple[Stick, Kept]] = {
        stick.code: (stick, kept) for stick, kept in zip(tray.sticks, _kept(tray), strict=True)
    }
    order = [rows[code] for code in dict.fromkeys((*codes, *rows))]
    return replace(tray, sticks=tuple(stick for stick, _ in order), kept=tuple(kept for _, kept in order))


def some_of(tray: Tray, codes: Sequence[str]) -> list[tuple[Stick, Kept]]:
    """These sticks, in the order of the tray, with what is known of them. Raises NotFoundError (`no_stick`)."""
    _there(tray, codes)
    return [row for row in zip(tray.sticks, _kept(tray), strict=True) if row[0].code in codes]


def check(stick: Stick, kept: Kept = Kept()) -> None:  # noqa: B008  # a value
    """Raises InputError (`bad_stick`, `unknown_medium`) for what no stick can be, naming the field."""
    get_medium(stick.medium)
    for field, text in (("code", stick.code), ("name", stick.name)):
        if not text.strip():
            raise _bad(stick, field, "is missing", "Give it a few letters or digits.")
    for field in ("code", "name", "range", "binder"):
        if len(getattr(stick, field)) > MAX_LENGTH:
            raise _bad(stick, field, "is too long", f"Keep it to {MAX_LENGTH} letters.")
    if not _HEX.fullmatch(stick.hex):
        raise _bad(stick, "hex", f"is “{stick.hex[:20]}”", "Write six hex digits such as #c08a6a.")
    for field, known in (("opacity", OPACITIES), ("condition", CONDITIONS)):
        if getattr(stick, field) not in known:
            raise _bad(stick, field, f"is “{getattr(stick, field)[:20]}”", f"Use one of {', '.join(known)}.")
    if not 1 <= kept.count <= MOST_COUNT:
        raise _bad(stick, "count", f"is {kept.count}", f"Use 1 to {MOST_COUNT}.")
    if len(kept.note) > MAX_NOTE:
        raise _bad(stick, "note", "is too long", f"Keep it to {MAX_NOTE} letters.")
    if not set(kept.feel) <= set(FEELS) or len(set(kept.feel)) < len(kept.feel):
        raise _bad(stick, "feel", "is unknown", f"Use some of {', '.join(FEELS)}.")
    if kept.source not in SOURCES:
        raise _bad(stick, "source", "is unknown", f"Use one of {', '.join(SOURCES[1:])}.")


def _bad(stick: Stick, field: str, said: str, hint: str) -> InputError:
    whose = stick.code[:20] or stick.name[:20] or "one"
    return InputError("bad_stick", f"The {field} of {whose} {said}.", f"{hint} Nothing was changed.", field)


def _kept(tray: Tray) -> tuple[Kept, ...]:
    return tray.kept or (Kept(),) * len(tray.sticks)


def _there(tray: Tray, codes: Sequence[str]) -> None:
    gone = sorted(set(codes) - {stick.code for stick in tray.sticks})
    if gone or not codes:
        raise NotFoundError(
            "no_stick",
            f"{_listed(gone) if gone else 'Nothing'} is not in this box.",
            "Choose others; nothing was changed.",
            "codes",
        )


def _listed(codes: Sequence[str]) -> str:
    more = f" and {len(codes) - _SAID} more" if len(codes) > _SAID else ""
    return ", ".join(code[:20] for code in codes[:_SAID]) + more
