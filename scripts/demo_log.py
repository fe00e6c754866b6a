"""The demo's shop log: two weeks of the shop, up to the morning on which the demo opens."""

from __future__ import annotations

from datetime import datetime

from homunculus.core.log import LogEvent


def at(day: int, month: int, hour: int = 9, minute: int = 0) -> datetime:
    """A moment of the demo's year."""
    return datetime(2026, month, day, hour, minute)


def log() -> tuple[LogEvent, ...]:
    """What was weighed, poured, opened, spoiled and measured, and what was noticed."""
    keeper, ferry, salt = ("keeper", "cheek"), ("ferry", "hull"), ("saltbust", "bust")
    rows: list[LogEvent] = [
        LogEvent("d01", at(10, 2, 10, 20), "note", "Life cast of the Keeper: second person there, airway clear, stop signal agreed.", "keeper"),
        LogEvent("d02", at(10, 2, 15, 0), "note", "Ferry hull plug primed and sanded. Release tested on an offcut.", "ferry"),
        LogEvent("d03", at(11, 2, 11, 10), "weighed", "first cheek block", *keeper, 21.2, op="rubber", weights_kg={"A": 0.452}, lot="A 2207", batch=1),
        LogEvent("d04", at(11, 2, 11, 14), "weighed", "first cheek block", *keeper, 21.2, op="rubber", weights_kg={"B": 0.451}, lot="B 2207", batch=1),
        LogEvent("d05", at(11, 2, 11, 30), "poured", "cheek block, over the old clay", *keeper, 21.3, op="rubber", weights_kg={"A": 0.452, "B": 0.451}),
        LogEvent("d06", at(12, 2, 9, 15), "spoiled", "Sticky wherever it touched the clay: the sculpt was sulphur clay. Thrown out, sculpt sealed and copied in oil clay.", *keeper, 20.4, op="rubber"),
        LogEvent("d07", at(12, 2, 16, 0), "note", "Sulphur clay is in the shop again: keep it off the platinum bench."),
        LogEvent("d08", at(13, 2, 10, 0), "note", "Brine 1, plain, saturated at 20 °C: fine needles, fall off when touched.", "saltbust"),
        LogEvent("d09", at(13, 2, 10, 5), "note", "Brine 2, with alum: clear blocks, slow, 9 hours to cover.", "saltbust"),
        LogEvent("d10", at(16, 2, 9, 30), "note", "Brine 3, warm then cooled overnight: cauliflower heads, read well on camera.", "saltbust"),
        LogEvent("d11", at(16, 2, 9, 40), "note", "Brine 4, plain with a drop of dish soap: even white bloom in 5 hours. Chosen.", "saltbust"),
        LogEvent("d12", at(17, 2, 17, 30), "measured", "logger, heater on", celsius=15.0, until=at(18, 2, 8, 0)),
        LogEvent("d13", at(18, 2, 14, 0), "note", "Claw armature: wire of the small joint broke after about 40 bends. Next size up.", "oldclaw"),
        LogEvent("d14", at(19, 2, 14, 32), "weighed", "ferry hull, first try", *ferry, 20.6, op="rubber-1", weights_kg={"A": 3.62}, lot="A 2211", batch=1),
        LogEvent("d15", at(19, 2, 14, 33), "note", "A went 120 g over. B taken up to 362 g instead of 350 and the last cup made smaller. Saved.", *ferry),
        LogEvent("d16", at(19, 2, 14, 38), "weighed", "ferry hull, first try", *ferry, 20.6, op="rubber-1", weights_kg={"B": 0.362}, lot="B 2211", batch=1),
        LogEvent("d17", at(19, 2, 15, 30), "poured", "ferry hull, first try", *ferry, 20.5, op="rubber-1", weights_kg={"A": 3.62, "B": 0.362}),
        LogEvent("d18", at(19, 2, 18, 0), "measured", "shop cold, heater off", celsius=9.0, until=at(20, 2, 8, 0)),
        LogEvent("d19", at(20, 2, 8, 5), "note", "Heater had tripped. Shop was at 9 °C all night; the hull is still soft at the keel.", "ferry"),
        LogEvent("d20", at(20, 2, 17, 0), "note", "Gull wings: hinge of sheet foam lasts 300 flaps, of woven tape over 2000. Tape.", "gulls"),
        LogEvent("d21", at(21, 2, 10, 10), "opened", "Saturday, a day late after the cold night; clean all over.", *ferry, 19.0, op="rubber-1"),
        LogEvent("d22", at(23, 2, 11, 45), "note", "Gill collar: 8 mm blanket tears at the comb when it comes off the clay. 9 mm held.", "tidewife"),
        LogEvent("d23", at(23, 2, 15, 52), "weighed", "cheek block", *keeper, 21.0, op="rubber", weights_kg={"A": 0.45}, lot="A 2211", batch=1),
        LogEvent("d24", at(23, 2, 15, 57), "weighed", "cheek block", *keeper, 21.0, op="rubber", weights_kg={"B": 0.45}, lot="B 2211", batch=1),
        LogEvent("d25", at(23, 2, 16, 20), "poured", "cheek block", *keeper, 21.0, op="rubber", weights_kg={"A": 0.45, "B": 0.45}),
        LogEvent("d26", at(24, 2, 8, 40), "note", "Bust dry to the touch; first spray of brine at noon.", *salt),
    ]  # fmt: skip
    return tuple(rows)
