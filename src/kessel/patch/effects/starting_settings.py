"""Starting settings of every kind of effect, in the units of the controls."""

from __future__ import annotations

from typing import Any

_Values = dict[str, Any]


def _eq(*bands: tuple[Any, ...]) -> _Values:
    """Bands as (type, Hz, dB, Q, and more)."""
    found = []
    for n, (kind, hz, gain, q, *more) in enumerate(bands):
        found.append(
            {"id": f"b{n + 1}", "type": kind, "frequency": hz, "gain": gain, "q": q, **(more[0] if more else {})}
        )
    return {"bands": found}


def _bands(*each: tuple[str, float, float, float, float, float, float, float]) -> list[_Values]:
    """Bands as (name, down from, ratio, up from, ratio, attack, release, gain)."""
    names = ("down_threshold", "down_ratio", "up_threshold", "up_ratio", "attack", "release", "gain")
    return [{"id": e[0].lower().replace(" ", "-"), "name": e[0], **dict(zip(names, e[1:], strict=True))} for e in each]


def _line(*points: tuple[float, float]) -> list[_Values]:
    return [{"at": a, "value": v} for a, v in points]


STARTING: dict[str, tuple[tuple[str, _Values], ...]] = {
    "distortion": (
        ("Warm hull", {"curve": "tube", "drive": 10.0, "bias": 12.0, "mix": 100.0}),
        ("Mids only", {"curve": "soft", "drive": 20.0, "focus_low": 250.0, "focus_high": 4000.0, "mix": 80.0}),
        ("Caught edge", {"curve": "hard", "drive": 14.0, "lift": 9.0, "lift_at": 1200.0, "focus_low": 160.0}),
        ("Bent plate", {"curve": "fold", "drive": 16.0, "focus_low": 200.0, "mix": 45.0}),
        ("Half wave", {"curve": "one-sided", "drive": 12.0, "mix": 70.0}),
        ("Gravel", {"curve": "crush", "drive": 3.0, "bits": 6.0, "rate": 9000.0, "mix": 35.0}),
    ),
    "eq": (
        ("Clear of mud", _eq(("bell", 280.0, -4.0, 1.1))),
        ("Mud over the note", _eq(("bell", 250.0, -5.0, 2.5, {"tied": True, "times": 4.0}))),
        ("Weight on the note", _eq(("bell", 60.0, 3.0, 2.0, {"tied": True, "times": 1.0}))),
        ("Out of the sub's way", _eq(("low-cut", 110.0, 0.0, 0.71, {"slope": "24"}))),
        ("Dark lid", _eq(("high-cut", 3200.0, 0.0, 0.71, {"slope": "18"}), ("bell", 900.0, 2.0, 0.8))),
        ("Tilt to bite", _eq(("low-shelf", 140.0, -2.0, 0.7), ("high-shelf", 1800.0, 3.0, 0.7))),
    ),
    "filter": (
        ("Lid", {"type": "low-pass", "cutoff": 900.0, "slope": "24"}),
        ("Floor", {"type": "high-pass", "cutoff": 120.0, "slope": "24"}),
        ("Window", {"type": "band-pass", "cutoff": 600.0, "resonance": 6.0, "slope": "12"}),
        ("Hole", {"type": "notch", "cutoff": 420.0, "slope": "12"}),
    ),
    "ladder": (
        ("Round", {"cutoff": 500.0, "resonance": 4.0, "lows": 70.0}),
        ("Pushed", {"cutoff": 800.0, "resonance": 8.0, "drive": 10.0, "lows": 60.0}),
        ("Sour", {"cutoff": 1200.0, "resonance": 22.0, "lows": 40.0}),
        ("Open", {"cutoff": 3600.0, "resonance": 2.0, "lows": 50.0}),
    ),
    "comb": (
        ("An octave rings", {"tuned": "note", "interval": 12.0, "feedback": 75.0, "mix": 35.0}),
        ("Hollow pipe", {"tuned": "note", "interval": 12.0, "feedback": -80.0, "mix": 40.0}),
        ("Fifth above", {"tuned": "note", "interval": 19.0, "feedback": 85.0, "damping": 4000.0, "mix": 30.0}),
        ("Fixed strut", {"tuned": "Hz", "cutoff": 220.0, "feedback": 70.0, "mix": 40.0}),
    ),
    "vowel": (
        ("Ah", {"opening": 100.0, "tongue": 80.0}),
        ("Oh", {"opening": 50.0, "tongue": 100.0}),
        ("Ee", {"opening": 5.0, "tongue": 0.0}),
        ("Large mouth", {"opening": 70.0, "tongue": 70.0, "size": 160.0, "sharpness": 150.0}),
    ),
    "allpass": (
        ("One hole", {"stages": 2, "cutoff": 500.0}),
        ("Two holes", {"stages": 4, "cutoff": 700.0, "feedback": 30.0}),
        ("Drain", {"stages": 8, "cutoff": 350.0, "feedback": 60.0}),
        ("Smear", {"stages": 12, "cutoff": 300.0, "mix": 100.0}),
    ),
    "compressor": (
        ("Even hand", {"threshold": -20.0, "ratio": 2.5, "attack": 15.0, "release": 140.0, "knee": 9.0}),
        ("Punch", {"threshold": -22.0, "ratio": 4.0, "attack": 35.0, "release": 110.0, "knee": 3.0}),
        ("Clamp", {"threshold": -26.0, "ratio": 10.0, "attack": 1.0, "release": 60.0, "look_ahead": 1.5}),
        (
            "Tails up",
            {
                "mode": "upward",
                "threshold": -30.0,
                "ratio": 2.0,
                "attack": 20.0,
                "release": 200.0,
                "max_reduction": 12.0,
            },
        ),
        ("Deaf to the sub", {"threshold": -24.0, "ratio": 3.0, "detector_low_cut": 150.0}),
        ("Side by side", {"threshold": -34.0, "ratio": 12.0, "attack": 3.0, "release": 90.0, "mix": 40.0}),
    ),
    "expander": (
        ("Quiet gaps", {"threshold": -42.0, "ratio": 2.0, "release": 120.0}),
        ("Tighter tails", {"threshold": -28.0, "ratio": 2.0, "release": 60.0, "max_reduction": 24.0}),
        ("Shut door", {"threshold": -34.0, "ratio": 12.0, "attack": 0.5, "release": 40.0}),
        ("Noise stays out", {"threshold": -52.0, "ratio": 6.0, "release": 200.0}),
    ),
    "multiband": (
        (
            "Flat deck",
            {
                "bands": _bands(
                    ("Low", -20.0, 4.0, -50.0, 1.0, 20.0, 160.0, 0.0),
                    ("Mid", -22.0, 3.0, -40.0, 1.5, 10.0, 120.0, 0.0),
                    ("High", -26.0, 3.0, -46.0, 1.8, 3.0, 80.0, 0.0),
                ),
            },
        ),
        (
            "Detail out of the dark",
            {
                "max_boost": 14.0,
                "bands": _bands(
                    ("Low", -14.0, 2.0, -60.0, 1.0, 25.0, 180.0, 0.0),
                    ("Mid", -20.0, 2.0, -34.0, 2.5, 12.0, 140.0, 0.0),
                    ("High", -24.0, 2.0, -38.0, 3.0, 4.0, 90.0, 0.0),
                ),
            },
        ),
        (
            "Boom held down",
            {
                "split_1": 110.0,
                "bands": _bands(
                    ("Low", -26.0, 6.0, -60.0, 1.0, 30.0, 200.0, 1.0),
                    ("Mid", -12.0, 1.0, -60.0, 1.0, 10.0, 120.0, 0.0),
                    ("High", -12.0, 1.0, -60.0, 1.0, 5.0, 80.0, 0.0),
                ),
            },
        ),
        (
            "Four walls",
            {
                "split_1": 100.0,
                "split_2": 700.0,
                "split_3": 4000.0,
                "bands": _bands(
                    ("Low", -20.0, 3.0, -50.0, 1.0, 25.0, 180.0, 0.0),
                    ("Lower mid", -22.0, 4.0, -42.0, 1.3, 12.0, 120.0, -1.0),
                    ("Upper mid", -24.0, 4.0, -40.0, 1.6, 6.0, 90.0, 0.0),
                    ("High", -28.0, 5.0, -44.0, 1.6, 2.0, 60.0, 0.0),
                ),
            },
        ),
    ),
    "ceiling": (
        ("True peak", {"mode": "limiter", "limit": -1.0, "release": 80.0}),
        ("Rounded off", {"mode": "soft clip", "limit": -1.0, "drive": 3.0}),
        ("Cut flat", {"mode": "hard clip", "limit": -1.0, "drive": 3.0}),
        ("Pressed", {"mode": "limiter", "limit": -3.0, "drive": 6.0, "release": 40.0}),
    ),
    "chorus": (
        ("Slow tide", {"rate": 0.18, "depth": 3.0, "delay": 12.0, "voices": 3, "mix": 35.0}),
        ("Two boats", {"rate": 0.6, "depth": 1.4, "delay": 8.0, "voices": 2, "mix": 40.0}),
        ("In step", {"clock": "beats", "length": 8.0, "depth": 2.5, "voices": 4, "mix": 35.0}),
        ("Seasick", {"rate": 4.5, "depth": 0.8, "delay": 6.0, "voices": 2, "mix": 50.0}),
    ),
    "thicken": (
        ("Wider wall", {"voices": 4, "detune": 9.0, "delay": 14.0, "mix": 40.0}),
        ("Crowd", {"voices": 8, "detune": 18.0, "delay": 26.0, "mix": 50.0}),
        ("Just apart", {"voices": 2, "detune": 5.0, "delay": 9.0, "mix": 35.0}),
        ("Loose rope", {"voices": 5, "detune": 30.0, "rate": 2.0, "delay": 20.0, "mix": 45.0}),
    ),
    "phaser": (
        ("Slow turn", {"rate": 0.1, "depth": 2.0, "cutoff": 600.0, "stages": 4}),
        ("In bars", {"clock": "beats", "length": 16.0, "depth": 2.5, "cutoff": 800.0, "stages": 6, "feedback": 45.0}),
        ("Deep drain", {"rate": 0.25, "depth": 3.0, "cutoff": 350.0, "stages": 12, "feedback": 60.0}),
        ("Quick shimmer", {"rate": 5.0, "depth": 0.6, "cutoff": 2500.0, "stages": 4, "mix": 30.0}),
    ),
    "flanger": (
        ("Hull scrape", {"rate": 0.15, "delay": 2.0, "depth": 1.6, "feedback": 55.0}),
        ("Invert", {"rate": 0.3, "delay": 1.0, "depth": 0.8, "feedback": -70.0}),
        ("Tin", {"rate": 0.8, "delay": 0.5, "depth": 0.3, "feedback": 80.0, "mix": 30.0}),
        ("Over two bars", {"clock": "beats", "length": 8.0, "delay": 3.0, "depth": 2.8, "feedback": 40.0}),
    ),
    "echo": (
        ("Dotted", {"length": 0.75, "feedback": 35.0, "mix": 18.0, "feedback_high_cut": 3500.0}),
        ("From wall to wall", {"length": 0.5, "feedback": 45.0, "cross": 100.0, "mix": 20.0}),
        ("Slap", {"clock": "ms", "time": 95.0, "feedback": 0.0, "mix": 20.0}),
        ("Under it", {"length": 1.0, "feedback": 55.0, "duck": 18.0, "mix": 30.0, "feedback_low_cut": 300.0}),
        ("Worn", {"length": 0.75, "feedback": 60.0, "detune": 14.0, "feedback_high_cut": 1800.0, "mix": 22.0}),
    ),
    "space": (
        ("Close walls", {"decay": 500.0, "size": 45.0, "early": 70.0, "pre_delay": 2.0, "mix": 14.0}),
        ("Mill hall", {"decay": 2400.0, "size": 140.0, "early": 40.0, "pre_delay": 24.0, "mix": 16.0}),
        ("Dark tank", {"decay": 3800.0, "size": 120.0, "damping": 1500.0, "high_cut": 4000.0, "mix": 18.0}),
        ("Silo", {"mode": "built-in", "shape": "silo", "mix": 15.0}),
        ("Culvert", {"mode": "built-in", "shape": "culvert", "mix": 18.0}),
    ),
    "width": (
        ("Wider above", {"width": 150.0, "low": 250.0}),
        ("Centre the bottom", {"width": 100.0, "low": 140.0, "below": "mono"}),
        ("Wide and centred", {"width": 140.0, "low": 180.0, "below": "mono"}),
        ("Mono", {"width": 0.0, "low": 20.0}),
    ),
    "auto-pan": (
        ("Slow sway", {"rate": 0.25, "depth": 40.0}),
        ("In eighths", {"clock": "beats", "length": 1.0, "depth": 60.0}),
        ("Tremor", {"rate": 7.0, "depth": 50.0, "stereo_offset": 0.0}),
        ("Bars", {"clock": "beats", "length": 8.0, "depth": 70.0}),
    ),
    "shift": (
        ("Slow drift", {"shift": 0.4, "sides": "opposite", "mix": 50.0}),
        ("Off by a hair", {"shift": 3.0, "mix": 40.0}),
        ("Iron", {"shift": 57.0, "mix": 60.0, "low_cut": 250.0}),
        ("Down the drain", {"shift": -120.0, "mix": 50.0, "low_cut": 300.0}),
    ),
    "beat-shape": (
        ("Room for the kick", {"by": "kick", "kick": {"depth": 12.0, "attack": 2.0, "hold": 40.0, "release": 140.0}}),
        ("Pump", {"by": "curve", "length": 1.0, "depth": 18.0, "points": _line((0, 0), (0.55, 1), (1, 1))}),
        ("Gate in eighths", {"length": 0.5, "depth": 60.0, "points": _line((0, 1), (0.6, 1), (0.6, 0), (1, 0))}),
        ("Off the beat", {"length": 1.0, "depth": 40.0, "points": _line((0, 0), (0.45, 0), (0.5, 1), (1, 0.9))}),
        ("Swell", {"length": 4.0, "depth": 14.0, "points": _line((0, 0.1), (0.9, 1), (1, 1))}),
    ),
    "cabinet": (
        ("One large cone", {"box": "closed", "size": 140.0, "bass": 2.0}),
        ("Open back", {"box": "open", "air": 40.0}),
        ("Station horn", {"box": "horn", "size": 90.0, "treble": 3.0}),
        ("Torn paper", {"box": "paper", "treble": 6.0, "mix": 70.0}),
        ("Tin can", {"box": "tin", "size": 80.0, "mix": 60.0}),
    ),
    "vocoder": (
        ("Wa and oh", {"words": "wa-oh", "step": 0.5, "bands": 14}),
        ("Chatter", {"words": "ra-ka-ta", "step": 0.25, "bands": 18, "release": 15.0}),
        ("Slow mouth", {"words": "oh-we-ah", "step": 1.0, "bands": 12, "release": 80.0}),
        ("Giant", {"words": "ya-ya", "step": 0.5, "formant": -8.0, "bands": 10}),
    ),
    "branch": (
        ("Dirt on top only", {"into": "bands", "split_1": 160.0}),
        ("Side by side", {"into": "copies"}),
        ("Low", {"into": "bands", "split_1": 90.0}),
        ("High", {"into": "bands", "split_1": 1200.0}),
    ),
}
"""Per kind of effect: names, and the values that differ from the defaults."""
