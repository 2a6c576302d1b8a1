"""Layers as steps of work: every place of every layer comes once in each order, and lower layers never later."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.look.roles import PLACES, ROLES
from core.method.steps import FEATURES, ORDERS, Order, Spot, steps_of, tick_of
from core.method.strokes import stroke_of
from core.optics.media import MEDIA

SPOTS = st.builds(
    Spot,
    id=st.uuids().map(str),
    figure=st.integers(0, 2),
    name=st.just("here"),
    place=st.sampled_from(PLACES),
    role=st.sampled_from(ROLES),
)
CHEEK = Spot("cheek", 0, "cheek, lit", "cheek", "light")
CHIN = Spot("chin", 0, "chin", "chin", "shadow")
LIP = Spot("lip", 0, "upper lip", "upper lip", "half-shadow")
OTHER = Spot("other", 1, "nose tip", "nose tip", "light")


@given(st.lists(st.lists(SPOTS, max_size=6, unique_by=lambda spot: spot.id), max_size=5), st.sampled_from(ORDERS))
def test_every_place_of_every_layer_comes_once_and_lower_layers_first(laid: list[list[Spot]], order: Order) -> None:
    steps = steps_of(laid, order)
    came = [(step.layer, spot.id) for step in steps for part in step.parts for spot in part.spots]
    assert sorted(came) == sorted((i, spot.id) for i, spots in enumerate(laid) for spot in spots)
    for _, spot in came:
        layers = [layer for layer, held in came if held == spot]
        assert layers == sorted(layers)


def test_the_orders_of_work() -> None:
    laid = [[CHEEK, CHIN, LIP, OTHER], [CHIN, LIP], [CHEEK, OTHER]]

    def said(order: Order) -> list[tuple[int, list[str]]]:
        return [(step.layer, [part.feature for part in step.parts]) for step in steps_of(laid, order)]

    assert said("by layer") == [
        (0, ["cheeks and ears", "mouth", "chin and jaw", "nose"]),
        (1, ["mouth", "chin and jaw"]),
        (2, ["cheeks and ears", "nose"]),
    ]
    assert [layer for layer, _ in said("one figure after the other")] == [0, 1, 2, 0, 2]
    assert said("by feature")[:3] == [(0, ["cheeks and ears"]), (2, ["cheeks and ears"]), (0, ["mouth"])]
    # The light of one figure, its shade, then the other's light.
    assert [layer for layer, _ in said("one area finished")] == [0, 2, 0, 1, 0, 2]


def test_every_place_belongs_to_one_feature_at_most() -> None:
    named = [place for places in FEATURES.values() for place in places]
    assert sorted(named) == sorted(set(PLACES) - {"other"})
    assert tick_of("a", "b") != tick_of("b", "a")
    assert len(tick_of("layer-1", "x" * 200)) == 16


@pytest.mark.parametrize("medium", sorted(MEDIA))
@pytest.mark.parametrize("pressure", ["light", "medium", "heavy"])
def test_every_stroke_has_a_verb(medium: str, pressure: str) -> None:
    stroke = stroke_of(medium, "lay", pressure, False, ["light"] * 4, everywhere=False)
    assert stroke.words[0].isupper()
    assert stroke.end == "Ease the hand where the shade begins."


def test_strokes_of_the_trade() -> None:
    # Common practice: broad light layers with the side of the lead, small places with the tip, ink edge to wet edge.
    assert stroke_of("pencil", "lay", "light", False, ["middle"] * 9, everywhere=True).kind == "side"
    assert stroke_of("pencil", "lay", "heavy", False, ["deep accent"], everywhere=False).first == "Sharpen."
    assert stroke_of("marker", "lay", "light", True, ["shadow"], everywhere=False).kind == "flick"
    assert "dry" in stroke_of("marker", "lay", "light", False, ["shadow"], everywhere=False, over_ink=True).first
    assert "wet" in stroke_of("marker", "wet", "light", False, ["shadow"], everywhere=False, over_ink=True).first
    assert stroke_of("pencil", "burnish", "heavy", False, ["light"], everywhere=False).kind == "press"
    mixed = stroke_of("pastel", "lay", "heavy", False, ["light", "shadow"], everywhere=False)
    assert "joins what lies beside it" in mixed.end
