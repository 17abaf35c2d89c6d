"""From an empty painting to the flats of the Tidebell scene, by hand in the window: sketch, friskets, fills.

Brindle, an old otter, head and shoulders; beside it the tide bell and a green glass float on the mudflat.
"""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import Qt

from japanner.desk.tasks.fill import FillTask
from japanner.desk.tasks.head_guide import GuideTask
from japanner.painting.operations import SetPart
from tests.desk.hand import Hand

WIDTH, HEIGHT = 2400, 1800
# What each part is called, its material, and the middle value of its own colour.
FLATS = {
    "Mudflat": ("plain", (0.36, 0.33, 0.30)),
    "Bell": ("metal", (0.55, 0.42, 0.20)),
    "Float": ("glass", (0.20, 0.42, 0.34)),
    "Shoulders": ("fur", (0.33, 0.24, 0.17)),
    "Head": ("fur", (0.42, 0.31, 0.22)),
    "Nose": ("skin", (0.20, 0.16, 0.16)),
    "Eyes": ("eye", (0.45, 0.28, 0.10)),
}
HEAD = [
    (742, 668), (766, 580), (846, 515), (955, 482), (1080, 474), (1200, 496), (1300, 556), (1366, 650), (1384, 770),
    (1350, 890), (1262, 985), (1146, 1046), (1010, 1080), (880, 1085), (752, 1062), (660, 1004), (620, 925),
    (634, 830), (694, 750),
]  # fmt: skip
EARS = (
    [(1318, 560), (1352, 524), (1400, 530), (1416, 578), (1384, 632)],
    [(784, 560), (766, 522), (792, 494), (834, 512)],
)
BELL = [
    (1560, 1080), (1610, 1000), (1640, 760), (1680, 610), (1780, 545), (1880, 610), (1920, 760), (1950, 1000),
    (2000, 1080), (1900, 1122), (1780, 1132), (1660, 1122),
]  # fmt: skip
SHOULDERS = [
    (722, 1000), (700, 1130), (628, 1270), (540, 1420), (500, 1600), (490, 1810), (1640, 1810), (1620, 1600),
    (1540, 1380), (1430, 1180), (1372, 1000), (1330, 850), (1200, 960), (1000, 1060), (850, 1080),
]  # fmt: skip
NOSE = [(664, 836), (700, 800), (760, 794), (812, 812), (820, 856), (790, 896), (742, 916), (692, 892)]


def smooth(points: list[tuple[float, float]], *, closed: bool = True, per_piece: int = 12) -> list[tuple[float, float]]:
    """Positions along a curve through some points, as a hand would draw it."""
    line = np.array(points, float)
    ends = (line[-1:], line[:2]) if closed else (line[:1], line[-1:])
    padded = np.concatenate((ends[0], line, ends[1] if closed else np.repeat(ends[1], 2, axis=0)))
    t = np.linspace(0, 1, per_piece, endpoint=False)[:, None]
    pieces = []
    for i in range(len(line) if closed else len(line) - 1):
        a, b, c, d = padded[i : i + 4]
        pieces.append(0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t**2 + (3 * b - a - 3 * c + d) * t**3))
    return [tuple(row) for row in np.concatenate(pieces).tolist()]


def draw_sketch(hand: Hand) -> None:
    """A guide for the head, then lines over it; some of them do not quite meet."""
    window = hand.window
    window.building.add_part("drawing")
    hand.command("Part › Head guide")
    guide = window.tasks["head"]
    assert isinstance(guide, GuideTask)
    for name, value in (("kind", "animal"), ("x", 1050.0), ("y", 775.0), ("height_px", 640.0), ("yaw_deg", -32.0),
                        ("pitch_deg", 4.0), ("muzzle", 0.2), ("muzzle_width", 0.6), ("ears", 0.1)):  # fmt: skip
        guide._set(**{name: value})
    window.easel.leave_task()
    session = window.session
    session.hand.set_colour((0.08, 0.07, 0.07))
    session.hand.take_brush_named("Point")
    session.hand.set_brush(size_px=9.0)
    outline = smooth(HEAD)
    hand.pen([(x, y, 0.8) for x, y in outline[:-1]])  # open by some px
    for ear in EARS:
        hand.pen([(x, y, 0.7) for x, y in smooth(ear, closed=False)])
    hand.pen([(x, y, 0.7) for x, y in smooth(SHOULDERS[:6], closed=False)])
    hand.pen([(x, y, 0.7) for x, y in smooth(SHOULDERS[6:12], closed=False)])
    hand.pen([(x, y, 0.7) for x, y in smooth(BELL)])
    hand.pen([(x, y, 0.6) for x, y in smooth(NOSE)])


def begin(hand: Hand, name: str) -> None:
    """A part of its own for a flat, its colour in hand."""
    window, (material, colour) = hand.window, FLATS[name]
    window.building.add_part(material)
    uid = window.session.painting.parts[-1].uid
    window.session.apply(SetPart(uid, {"name": name}))
    window.session.hand.set_colour(colour)


def fill(hand: Hand) -> None:
    """Fill what the frisket lets through, and take it off."""
    hand.window.easel.leave_task()
    hand.command("Stroke › Fill all")
    hand.command("Frisket › Drop")


def straight_outline(hand: Hand, corners: list[tuple[float, float]]) -> None:
    """Straight lines from corner to corner, with Shift held."""
    for x, y in corners:
        hand.hover(x, y, shift=True)
        hand.mouse([(x, y)], shift=True)
    hand.key_up(Qt.Key.Key_Shift)


def curve(hand: Hand, points: list[tuple[float, float]]) -> None:
    """A curve through points: each is clicked, and its handle dragged along the curve."""
    line = np.array(points, float)
    handles = (np.roll(line, -1, axis=0) - np.roll(line, 1, axis=0)) / 6
    for (x, y), (dx, dy) in zip(points, handles.tolist(), strict=True):
        hand.mouse([(x, y), (x + dx / 2, y + dy / 2), (x + dx, y + dy)])
    hand.key(Qt.Key.Key_Return)


def lay_flats(hand: Hand) -> None:
    """Seven closed flats, each by the frisket or fill that suits it."""
    window = hand.window
    begin(hand, "Mudflat")
    hand.command("Frisket › Outline")
    straight_outline(hand, [(-20, 1240), (900, 1205), (1700, 1230), (2420, 1190), (2420, 1820), (-20, 1820)])
    fill(hand)

    begin(hand, "Bell")
    hand.command("Frisket › Curve")
    curve(hand, BELL)
    fill(hand)

    begin(hand, "Float")
    hand.command("Frisket › Oval")
    hand.mouse([(2120, 1450), (2200, 1500), (2270, 1600)], shift=True, ctrl=True)  # a circle about its middle
    fill(hand)

    begin(hand, "Shoulders")
    hand.command("Frisket › Outline")
    hand.mouse(smooth(SHOULDERS))
    fill(hand)

    begin(hand, "Head")
    hand.command("Stroke › Fill from a point")
    task = window.tasks["fill"]
    assert isinstance(task, FillTask)
    task.reference.setCurrentText("sketch")
    task.gap.setValue(30)
    for x, y in ((1000, 600), (745, 855), (1378, 566)):  # the head, under the nose, an ear
        hand.mouse([(x, y)])
    window.easel.leave_task()
    hand.command("Frisket › Outline")
    hand.mouse(smooth([*EARS[1], (846, 530), (800, 580)]))
    fill(hand)

    begin(hand, "Nose")
    window.easel.look_at(740, 860, zoom=1.0)  # close, so that the handles of so small a curve stand apart
    hand.command("Frisket › Curve")
    curve(hand, NOSE)
    window.easel.fit()
    fill(hand)

    begin(hand, "Eyes")
    hand.command("Frisket › Oval")
    hand.mouse([(780, 668), (800, 700), (846, 736)])
    window.tasks["frisket"]._how.setCurrentText("add")
    hand.mouse([(1030, 660), (1060, 690), (1104, 736)])
    window.tasks["frisket"]._how.setCurrentText("in place")
    fill(hand)


def paint(hand: Hand) -> None:
    """Sketch and flats."""
    draw_sketch(hand)
    lay_flats(hand)
