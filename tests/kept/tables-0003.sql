BEGIN TRANSACTION;
CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
INSERT INTO "alembic_version" VALUES('0003');
CREATE TABLE audio (
	word VARCHAR(80) NOT NULL, 
	name VARCHAR(60) NOT NULL, 
	seconds FLOAT NOT NULL, 
	channels INTEGER NOT NULL, 
	root FLOAT, 
	made VARCHAR(40) NOT NULL, 
	PRIMARY KEY (word)
);
CREATE TABLE parts (
	id INTEGER NOT NULL, 
	kind VARCHAR(20) NOT NULL, 
	name VARCHAR(60) NOT NULL, 
	body TEXT NOT NULL, 
	made VARCHAR(40) NOT NULL, 
	PRIMARY KEY (id)
);
INSERT INTO "parts" VALUES(1,'layer','My sub','{"kind": "layer", "name": "Sub", "part": {"id": "sub", "name": "Sub", "hatch": "level", "path": "clean", "mute": false, "level": -6.5, "pan": 0.0, "width": 100.0, "polarity": "normal", "delay": 0.0, "in_step": "", "play": {"mode": "mono", "voices": 4, "glide": 0.0, "glide_curve": 0.0, "glide_when": "overlap", "bend_range": 2.0, "transpose": 0, "fine": 0.0, "pitch": 0.0, "interval": 7.0, "interval_level": -72.0, "velocity": 6.0}, "unison": {"copies": 1, "detune": 12.0, "width": 60.0, "spread": 100.0}, "sources": [{"kind": "oscillator", "id": "sine", "name": "Sine", "shape": "sine", "pulse_width": 50.0, "mix_a": "triangle", "mix_b": "saw", "mix": 50.0, "wave": "stock:first-three", "position": 0.0, "octave": 0, "semitones": 0.0, "cents": 0.0, "ratio": 1.0, "offset": 0.0, "drift": 0.0, "level": 0.0, "polarity": "normal", "start": "restart", "phase": 275.0, "chance": 30.0, "unison": true, "to": "stages", "sync": "off", "sync_to": "", "sync_interval": 12.0, "twin": "off", "twin_shift": 180.0, "skew": 0.0, "partial_low": 1.0, "partial_high": 256.0, "partial_edge": 1.0, "stretch": 0.0, "scatter": 0.0, "feedback": 0.0, "modulators": []}], "stages": [], "branches": {"way": "series", "mix": 50.0}, "envelope": {"clock": "ms", "attack": 2.0, "hold": 0.0, "decay": 380.0, "release": 70.0, "attack_beats": 0.03125, "hold_beats": 0.0, "decay_beats": 1.0, "release_beats": 0.25, "attack_curve": 0.0, "decay_curve": 50.0, "release_curve": 50.0, "accent_decay": 40.0, "sustain": -8.0, "start": -72.0, "accent": 0.0}, "range": {"low": 20.0, "high": 90.0, "where": "after"}, "chain": [], "sends": [{"id": "echo", "level": -72.0}, {"id": "space", "level": -72.0}]}, "movers": [], "movements": [], "waves": []}','2026-11-28T07:38:33.717+00:00');
CREATE TABLE patches (
	id INTEGER NOT NULL, 
	set_id INTEGER NOT NULL, 
	slug VARCHAR(80) NOT NULL, 
	name VARCHAR(60) NOT NULL, 
	body TEXT NOT NULL, 
	demo VARCHAR(80), 
	created VARCHAR(40) NOT NULL, 
	edited VARCHAR(40) NOT NULL, 
	deleted VARCHAR(40), 
	PRIMARY KEY (id), 
	FOREIGN KEY(set_id) REFERENCES sets (id) ON DELETE CASCADE, 
	UNIQUE (slug)
);
INSERT INTO "patches" VALUES(1,1,'undertow','Undertow','{
 "format": "kessel-patch",
 "version": 1,
 "name": "Undertow",
 "note": "Smooth dark sub and body. The two work against each other: see the findings.",
 "tempo": 84.0,
 "tuning": 440.0,
 "seed": 1,
 "phrase": {
  "bars": 2,
  "root": "G",
  "scale": "minor",
  "notes": [
   {
    "id": "n1",
    "pitch": 31,
    "start": 0.0,
    "length": 1.75,
    "velocity": 96
   },
   {
    "id": "n2",
    "pitch": 34,
    "start": 1.75,
    "length": 0.75,
    "velocity": 84
   },
   {
    "id": "n3",
    "pitch": 29,
    "start": 2.5,
    "length": 1.5,
    "velocity": 92
   },
   {
    "id": "n4",
    "pitch": 31,
    "start": 4.0,
    "length": 1.5,
    "velocity": 98
   },
   {
    "id": "n5",
    "pitch": 38,
    "start": 5.5,
    "length": 0.5,
    "velocity": 80
   },
   {
    "id": "n6",
    "pitch": 36,
    "start": 6.0,
    "length": 1.0,
    "velocity": 88
   },
   {
    "id": "n7",
    "pitch": 34,
    "start": 7.0,
    "length": 1.1,
    "velocity": 86
   }
  ],
  "bend": [],
  "wheel": [],
  "pressure": []
 },
 "layers": [
  {
   "id": "sub",
   "name": "Sub",
   "hatch": "level",
   "path": "clean",
   "mute": false,
   "level": -8.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "legato",
    "voices": 4,
    "glide": 70.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 4.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "sine",
     "name": "Sine",
     "shape": "sine",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 6.0,
    "hold": 0.0,
    "decay": 900.0,
    "release": 140.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -4.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 140.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "body",
   "name": "Body",
   "hatch": "rising",
   "path": "worked",
   "mute": false,
   "level": -2.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "legato",
    "voices": 4,
    "glide": 70.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 8.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "tri",
     "name": "Triangle",
     "shape": "triangle",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": -4.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 200.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    },
    {
     "kind": "oscillator",
     "id": "reed",
     "name": "Reed saw",
     "shape": "saw",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": -5.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 200.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "tone",
     "name": "Tone",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "low-pass",
     "slope": "12",
     "cutoff": 280.0,
     "resonance": 3.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 40.0,
     "mix": 100.0,
     "trim": 0.0
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 4.0,
    "hold": 0.0,
    "decay": 700.0,
    "release": 160.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -6.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  }
 ],
 "splits": [],
 "movers": [
  {
   "clock": "ms",
   "attack": 12.0,
   "hold": 0.0,
   "decay": 420.0,
   "release": 200.0,
   "attack_beats": 0.03125,
   "hold_beats": 0.0,
   "decay_beats": 1.0,
   "release_beats": 0.25,
   "attack_curve": 0.0,
   "decay_curve": 50.0,
   "release_curve": 50.0,
   "accent_decay": 40.0,
   "kind": "envelope",
   "id": "open",
   "name": "Opening",
   "sustain": 15.0,
   "start": 0.0,
   "accent": 0.0
  }
 ],
 "movements": [
  {
   "id": "open-tone-cutoff",
   "mover": "open",
   "target": "layers.body.stages.tone.cutoff",
   "amount": 1.4,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  }
 ],
 "ties": [],
 "stances": [],
 "blend": {
  "a": "",
  "b": "",
  "share": 0.0
 },
 "pins": [],
 "worked": [
  {
   "id": "warm",
   "name": "Warmth",
   "on": true,
   "matched": false,
   "match": 0.0,
   "branch": "A",
   "kind": "distortion",
   "curve": "soft",
   "points": [
    {
     "at": 0.0,
     "value": 0.1,
     "bend": 0.0
    },
    {
     "at": 0.3,
     "value": 0.15,
     "bend": 0.0
    },
    {
     "at": 0.5,
     "value": 0.5,
     "bend": 0.0
    },
    {
     "at": 0.65,
     "value": 0.9,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 1.0,
     "bend": 0.0
    }
   ],
   "drive": 12.0,
   "bias": 14.0,
   "bits": 8.0,
   "rate": 12000.0,
   "focus_low": 20.0,
   "focus_high": 20000.0,
   "lift": 0.0,
   "lift_at": 800.0,
   "lift_q": 0.7,
   "mix": 80.0,
   "trim": 0.0,
   "level_match": true
  },
  {
   "id": "tone",
   "name": "Tone",
   "on": true,
   "matched": false,
   "match": 0.0,
   "kind": "eq",
   "mix": 100.0,
   "trim": 0.0,
   "bands": [
    {
     "id": "b1",
     "on": true,
     "solo": false,
     "type": "bell",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 320.0,
     "gain": -2.0,
     "q": 1.1
    },
    {
     "id": "b2",
     "on": true,
     "solo": false,
     "type": "high-cut",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 4200.0,
     "gain": 0.0,
     "q": 0.71
    }
   ]
  },
  {
   "id": "hold",
   "name": "Even hand",
   "on": true,
   "matched": false,
   "match": 0.0,
   "mix": 100.0,
   "trim": 6.18,
   "kind": "compressor",
   "way": "downward",
   "detect": "peak",
   "threshold": -20.0,
   "ratio": 2.5,
   "knee": 9.0,
   "attack": 15.0,
   "release": 140.0,
   "hold": 12.0,
   "ahead": 0.0,
   "most": 36.0,
   "listen_low": 20.0,
   "makeup": 0.0
  }
 ],
 "returns": [
  {
   "id": "echo",
   "name": "Echo",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "echo",
     "name": "Echo",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "echo",
     "clock": "beats",
     "time": 260.0,
     "length": 0.75,
     "feedback": 35.0,
     "cross": 0.0,
     "apart": 0.0,
     "loop_low": 20.0,
     "loop_high": 5000.0,
     "detune": 0.0,
     "duck": 0.0
    }
   ]
  },
  {
   "id": "space",
   "name": "Space",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "space",
     "name": "Space",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "space",
     "way": "network",
     "shape": "silo",
     "audio": "",
     "decay": 1400.0,
     "size": 100.0,
     "ahead": 12.0,
     "early": 40.0,
     "damping": 5000.0,
     "high_cut": 9000.0,
     "width": 100.0
    }
   ]
  }
 ],
 "sends": [
  {
   "id": "echo",
   "level": -72.0
  },
  {
   "id": "space",
   "level": -72.0
  }
 ],
 "output": {
  "duck": {
   "depth": 6.0,
   "attack": 2.0,
   "hold": 40.0,
   "release": 140.0,
   "on": false
  },
  "gain": -2.0,
  "fold": true,
  "mono_below": 120.0,
  "fold_follows": false,
  "fold_times": 3.0,
  "ceiling": {
   "on": true,
   "way": "limiter",
   "limit": -1.2,
   "release": 80.0
  },
  "trim": 0.0
 },
 "waves": [],
 "backing": {
  "beat": {
   "on": false,
   "pattern": "four",
   "level": -9.0,
   "kick_pitch": 50.0,
   "kick": 0.0,
   "snare": -3.0,
   "hats": -9.0
  },
  "loops": [],
  "patches": []
 }
}
','undertow','2026-11-28T07:38:33.292+00:00','2026-11-28T07:38:33.292+00:00',NULL);
INSERT INTO "patches" VALUES(2,1,'sluice-gate','Sluice Gate','{
 "format": "kessel-patch",
 "version": 1,
 "name": "Sluice Gate",
 "note": "A plucked square over a clean sub, with an edge and a click.",
 "tempo": 132.0,
 "tuning": 440.0,
 "seed": 1,
 "phrase": {
  "bars": 2,
  "root": "F",
  "scale": "minor",
  "notes": [
   {
    "id": "n1",
    "pitch": 29,
    "start": 0.0,
    "length": 0.45,
    "velocity": 112
   },
   {
    "id": "n2",
    "pitch": 29,
    "start": 0.75,
    "length": 0.3,
    "velocity": 88
   },
   {
    "id": "n3",
    "pitch": 32,
    "start": 1.5,
    "length": 0.45,
    "velocity": 100
   },
   {
    "id": "n4",
    "pitch": 29,
    "start": 2.25,
    "length": 0.3,
    "velocity": 92
   },
   {
    "id": "n5",
    "pitch": 36,
    "start": 2.75,
    "length": 0.4,
    "velocity": 104
   },
   {
    "id": "n6",
    "pitch": 29,
    "start": 3.5,
    "length": 0.3,
    "velocity": 84
   },
   {
    "id": "n7",
    "pitch": 29,
    "start": 4.0,
    "length": 0.45,
    "velocity": 112
   },
   {
    "id": "n8",
    "pitch": 39,
    "start": 4.75,
    "length": 0.3,
    "velocity": 96
   },
   {
    "id": "n9",
    "pitch": 36,
    "start": 5.5,
    "length": 0.45,
    "velocity": 100
   },
   {
    "id": "n10",
    "pitch": 32,
    "start": 6.25,
    "length": 0.4,
    "velocity": 94
   },
   {
    "id": "n11",
    "pitch": 27,
    "start": 7.0,
    "length": 0.5,
    "velocity": 106
   },
   {
    "id": "n12",
    "pitch": 28,
    "start": 7.5,
    "length": 0.45,
    "velocity": 90
   }
  ],
  "bend": [],
  "wheel": [],
  "pressure": []
 },
 "layers": [
  {
   "id": "sub",
   "name": "Sub",
   "hatch": "level",
   "path": "clean",
   "mute": false,
   "level": -6.5,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "mono",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 6.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "sine",
     "name": "Sine",
     "shape": "sine",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 275.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 2.0,
    "hold": 0.0,
    "decay": 380.0,
    "release": 70.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -8.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 90.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "body",
   "name": "Body",
   "hatch": "rising",
   "path": "worked",
   "mute": false,
   "level": -1.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "mono",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 6.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "square",
     "name": "Square",
     "shape": "pulse",
     "pulse_width": 46.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": -5.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "pluck",
     "name": "Pluck",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "low-pass",
     "slope": "24",
     "cutoff": 230.0,
     "resonance": 5.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 60.0,
     "mix": 100.0,
     "trim": 0.0
    },
    {
     "id": "distortion",
     "name": "Distortion",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "distortion",
     "curve": "soft",
     "points": [
      {
       "at": 0.0,
       "value": 0.1,
       "bend": 0.0
      },
      {
       "at": 0.3,
       "value": 0.15,
       "bend": 0.0
      },
      {
       "at": 0.5,
       "value": 0.5,
       "bend": 0.0
      },
      {
       "at": 0.65,
       "value": 0.9,
       "bend": 0.0
      },
      {
       "at": 1.0,
       "value": 1.0,
       "bend": 0.0
      }
     ],
     "drive": 12.0,
     "bias": 0.0,
     "bits": 8.0,
     "rate": 12000.0,
     "focus_low": 20.0,
     "focus_high": 20000.0,
     "lift": 0.0,
     "lift_at": 800.0,
     "lift_q": 0.7,
     "mix": 100.0,
     "trim": 0.0,
     "level_match": true
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 1.5,
    "hold": 0.0,
    "decay": 320.0,
    "release": 60.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 35.0,
    "sustain": -14.0,
    "start": -72.0,
    "accent": 4.0
   },
   "range": {
    "low": 90.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "edge",
   "name": "Edge",
   "hatch": "cross",
   "path": "worked",
   "mute": false,
   "level": -1.5,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "mono",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 6.0
   },
   "unison": {
    "copies": 3,
    "detune": 7.0,
    "width": 70.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "saw",
     "name": "Edge saw",
     "shape": "saw",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 1,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": -6.5,
     "polarity": "normal",
     "start": "restart",
     "phase": 320.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": [
      {
       "id": "bell",
       "source": "bell",
       "way": "phase",
       "depth": 70.0,
       "share": 100.0
      }
     ]
    },
    {
     "kind": "oscillator",
     "id": "bell",
     "name": "Bell sine",
     "shape": "sine",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 2,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "nowhere",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "thin",
     "name": "Thin",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "high-pass",
     "slope": "24",
     "cutoff": 420.0,
     "resonance": 0.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 0.0,
     "mix": 100.0,
     "trim": 0.0
    },
    {
     "id": "lid",
     "name": "Lid",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "low-pass",
     "slope": "12",
     "cutoff": 2200.0,
     "resonance": 0.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 30.0,
     "mix": 100.0,
     "trim": 0.0
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 1.0,
    "hold": 0.0,
    "decay": 210.0,
    "release": 60.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -20.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 360.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "click",
   "name": "Click",
   "hatch": "dots",
   "path": "clean",
   "mute": false,
   "level": -8.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "mono",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 6.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "noise",
     "id": "strike",
     "name": "Strike",
     "colour": "white",
     "level": 0.0,
     "width": 0.0,
     "polarity": "normal",
     "to": "stages",
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "shape",
     "name": "Shape",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "band-pass",
     "slope": "12",
     "cutoff": 2600.0,
     "resonance": 0.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 0.0,
     "mix": 100.0,
     "trim": 0.0
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 0.5,
    "hold": 0.0,
    "decay": 9.0,
    "release": 8.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 60.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -72.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  }
 ],
 "splits": [
  {
   "id": "low-split",
   "lower": "sub",
   "upper": "body"
  }
 ],
 "movers": [
  {
   "clock": "ms",
   "attack": 1.0,
   "hold": 0.0,
   "decay": 190.0,
   "release": 90.0,
   "attack_beats": 0.03125,
   "hold_beats": 0.0,
   "decay_beats": 1.0,
   "release_beats": 0.25,
   "attack_curve": 0.0,
   "decay_curve": 60.0,
   "release_curve": 50.0,
   "accent_decay": 30.0,
   "kind": "envelope",
   "id": "snap",
   "name": "Snap",
   "sustain": 4.0,
   "start": 0.0,
   "accent": 20.0
  },
  {
   "kind": "lfo",
   "id": "tide",
   "name": "Tide",
   "shape": "sine",
   "clock": "beats",
   "length": 16.0,
   "rate": 2.0,
   "width": 50.0,
   "phase": 0.0,
   "restart": "phrase",
   "once": false,
   "fade": 0.0,
   "edges": 2.0,
   "points": [
    {
     "at": 0.0,
     "value": 1.0,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 0.0,
     "bend": 0.0
    }
   ]
  }
 ],
 "movements": [
  {
   "id": "snap-pluck-cutoff",
   "mover": "snap",
   "target": "layers.body.stages.pluck.cutoff",
   "amount": 2.9,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "snap-lid-cutoff",
   "mover": "snap",
   "target": "layers.edge.stages.lid.cutoff",
   "amount": 1.2,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "tide-square-pulse-width",
   "mover": "tide",
   "target": "layers.body.sources.square.pulse_width",
   "amount": 9.0,
   "both_ways": true,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  }
 ],
 "ties": [],
 "stances": [],
 "blend": {
  "a": "",
  "b": "",
  "share": 0.0
 },
 "pins": [],
 "worked": [
  {
   "id": "grit",
   "name": "Grit",
   "on": true,
   "matched": false,
   "match": 0.0,
   "branch": "A",
   "kind": "distortion",
   "curve": "soft",
   "points": [
    {
     "at": 0.0,
     "value": 0.1,
     "bend": 0.0
    },
    {
     "at": 0.3,
     "value": 0.15,
     "bend": 0.0
    },
    {
     "at": 0.5,
     "value": 0.5,
     "bend": 0.0
    },
    {
     "at": 0.65,
     "value": 0.9,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 1.0,
     "bend": 0.0
    }
   ],
   "drive": 9.0,
   "bias": 6.0,
   "bits": 8.0,
   "rate": 12000.0,
   "focus_low": 20.0,
   "focus_high": 20000.0,
   "lift": 0.0,
   "lift_at": 800.0,
   "lift_q": 0.7,
   "mix": 60.0,
   "trim": 0.0,
   "level_match": true
  },
  {
   "id": "mud",
   "name": "Mud cut",
   "on": true,
   "matched": false,
   "match": 0.0,
   "kind": "eq",
   "mix": 100.0,
   "trim": 0.0,
   "bands": [
    {
     "id": "b1",
     "on": true,
     "solo": false,
     "type": "bell",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 310.0,
     "gain": -2.5,
     "q": 1.2
    },
    {
     "id": "b2",
     "on": true,
     "solo": false,
     "type": "high-shelf",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 5200.0,
     "gain": 2.0,
     "q": 0.71
    }
   ]
  },
  {
   "id": "deck",
   "name": "Deck",
   "on": true,
   "matched": false,
   "match": 0.0,
   "mix": 100.0,
   "trim": 2.49,
   "kind": "multiband",
   "split_1": 150.0,
   "split_2": 2200.0,
   "split_3": 7000.0,
   "knee": 6.0,
   "depth": 60.0,
   "speed": 1.0,
   "hold": 12.0,
   "most": 18.0,
   "bands": [
    {
     "id": "low",
     "name": "Low",
     "on": true,
     "solo": false,
     "down_threshold": -20.0,
     "down_ratio": 2.0,
     "up_threshold": -40.0,
     "up_ratio": 1.0,
     "attack": 20.0,
     "release": 160.0,
     "gain": 0.0
    },
    {
     "id": "mid",
     "name": "Mid",
     "on": true,
     "solo": false,
     "down_threshold": -22.0,
     "down_ratio": 3.0,
     "up_threshold": -40.0,
     "up_ratio": 1.3,
     "attack": 10.0,
     "release": 120.0,
     "gain": 0.0
    },
    {
     "id": "high",
     "name": "High",
     "on": true,
     "solo": false,
     "down_threshold": -28.0,
     "down_ratio": 3.0,
     "up_threshold": -46.0,
     "up_ratio": 1.5,
     "attack": 3.0,
     "release": 80.0,
     "gain": 0.0
    }
   ]
  }
 ],
 "returns": [
  {
   "id": "echo",
   "name": "Echo",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "echo",
     "name": "Echo",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "echo",
     "clock": "beats",
     "time": 260.0,
     "length": 0.75,
     "feedback": 35.0,
     "cross": 0.0,
     "apart": 0.0,
     "loop_low": 20.0,
     "loop_high": 5000.0,
     "detune": 0.0,
     "duck": 0.0
    }
   ]
  },
  {
   "id": "space",
   "name": "Space",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "space",
     "name": "Space",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "space",
     "way": "network",
     "shape": "silo",
     "audio": "",
     "decay": 1400.0,
     "size": 100.0,
     "ahead": 12.0,
     "early": 40.0,
     "damping": 5000.0,
     "high_cut": 9000.0,
     "width": 100.0
    }
   ]
  }
 ],
 "sends": [
  {
   "id": "echo",
   "level": -72.0
  },
  {
   "id": "space",
   "level": -72.0
  }
 ],
 "output": {
  "duck": {
   "depth": 6.0,
   "attack": 2.0,
   "hold": 40.0,
   "release": 140.0,
   "on": false
  },
  "gain": -3.0,
  "fold": true,
  "mono_below": 120.0,
  "fold_follows": false,
  "fold_times": 3.0,
  "ceiling": {
   "on": true,
   "way": "limiter",
   "limit": -1.2,
   "release": 80.0
  },
  "trim": 0.0
 },
 "waves": [],
 "backing": {
  "beat": {
   "on": false,
   "pattern": "four",
   "level": -9.0,
   "kick_pitch": 50.0,
   "kick": 0.0,
   "snare": -3.0,
   "hats": -9.0
  },
  "loops": [],
  "patches": []
 }
}
','sluice-gate','2026-11-28T07:38:33.306+00:00','2026-11-28T07:38:33.602+00:00',NULL);
INSERT INTO "patches" VALUES(3,1,'slack-water','Slack Water','{
 "format": "kessel-patch",
 "version": 1,
 "name": "Slack Water",
 "note": "A wide detuned body over a clean sub. Its lows do not survive mono: see the findings.",
 "tempo": 122.0,
 "tuning": 440.0,
 "seed": 1,
 "phrase": {
  "bars": 2,
  "root": "A",
  "scale": "minor",
  "notes": [
   {
    "id": "n1",
    "pitch": 33,
    "start": 0.0,
    "length": 0.9,
    "velocity": 104
   },
   {
    "id": "n2",
    "pitch": 33,
    "start": 1.0,
    "length": 0.4,
    "velocity": 84
   },
   {
    "id": "n3",
    "pitch": 33,
    "start": 1.5,
    "length": 0.9,
    "velocity": 98
   },
   {
    "id": "n4",
    "pitch": 36,
    "start": 2.5,
    "length": 0.4,
    "velocity": 90
   },
   {
    "id": "n5",
    "pitch": 38,
    "start": 3.0,
    "length": 0.9,
    "velocity": 100
   },
   {
    "id": "n6",
    "pitch": 33,
    "start": 4.0,
    "length": 0.9,
    "velocity": 104
   },
   {
    "id": "n7",
    "pitch": 33,
    "start": 5.0,
    "length": 0.4,
    "velocity": 84
   },
   {
    "id": "n8",
    "pitch": 40,
    "start": 5.5,
    "length": 0.9,
    "velocity": 98
   },
   {
    "id": "n9",
    "pitch": 38,
    "start": 6.5,
    "length": 0.4,
    "velocity": 88
   },
   {
    "id": "n10",
    "pitch": 36,
    "start": 7.0,
    "length": 0.9,
    "velocity": 96
   }
  ],
  "bend": [],
  "wheel": [],
  "pressure": []
 },
 "layers": [
  {
   "id": "sub",
   "name": "Sub",
   "hatch": "level",
   "path": "clean",
   "mute": false,
   "level": -21.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "mono",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 6.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "sine",
     "name": "Sine",
     "shape": "sine",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 80.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 4.0,
    "hold": 0.0,
    "decay": 600.0,
    "release": 80.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -3.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "body",
   "name": "Body",
   "hatch": "rising",
   "path": "worked",
   "mute": false,
   "level": 1.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "mono",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 6.0
   },
   "unison": {
    "copies": 7,
    "detune": 30.0,
    "width": 100.0,
    "spread": 62.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "saw",
     "name": "Wide saw",
     "shape": "saw",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": -6.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "tone",
     "name": "Tone",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "low-pass",
     "slope": "24",
     "cutoff": 520.0,
     "resonance": 3.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 50.0,
     "mix": 100.0,
     "trim": 0.0
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 5.0,
    "hold": 0.0,
    "decay": 500.0,
    "release": 110.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -5.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [
    {
     "id": "drift",
     "name": "Drift",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 30.0,
     "trim": -0.18,
     "low_cut": 180.0,
     "clock": "beats",
     "rate": 0.4,
     "length": 16.0,
     "kind": "phaser",
     "stages": 4,
     "cutoff": 700.0,
     "depth": 1.8,
     "feedback": 30.0,
     "apart": 60.0
    }
   ],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  }
 ],
 "splits": [],
 "movers": [
  {
   "clock": "ms",
   "attack": 30.0,
   "hold": 0.0,
   "decay": 360.0,
   "release": 160.0,
   "attack_beats": 0.03125,
   "hold_beats": 0.0,
   "decay_beats": 1.0,
   "release_beats": 0.25,
   "attack_curve": 0.0,
   "decay_curve": 50.0,
   "release_curve": 50.0,
   "accent_decay": 40.0,
   "kind": "envelope",
   "id": "bloom",
   "name": "Bloom",
   "sustain": 20.0,
   "start": 0.0,
   "accent": 0.0
  },
  {
   "kind": "lfo",
   "id": "swell",
   "name": "Swell",
   "shape": "sine",
   "clock": "beats",
   "length": 8.0,
   "rate": 2.0,
   "width": 50.0,
   "phase": 0.0,
   "restart": "phrase",
   "once": false,
   "fade": 0.0,
   "edges": 2.0,
   "points": [
    {
     "at": 0.0,
     "value": 1.0,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 0.0,
     "bend": 0.0
    }
   ]
  },
  {
   "kind": "curve",
   "id": "steps",
   "name": "Steps",
   "play": "loop",
   "clock": "beats",
   "length": 4.0,
   "length_ms": 500.0,
   "hold_at": 100.0,
   "restart": "phrase",
   "snap": "1/8",
   "edges": 6.0,
   "points": [
    {
     "at": 0.0,
     "value": 1.0,
     "bend": 0.0
    },
    {
     "at": 0.125,
     "value": 0.3,
     "bend": 40.0
    },
    {
     "at": 0.375,
     "value": 0.3,
     "bend": 0.0
    },
    {
     "at": 0.375,
     "value": 0.8,
     "bend": 0.0
    },
    {
     "at": 0.5,
     "value": 0.2,
     "bend": 40.0
    },
    {
     "at": 0.75,
     "value": 0.1,
     "bend": 0.0
    },
    {
     "at": 0.75,
     "value": 0.6,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 0.0,
     "bend": 0.0
    }
   ]
  }
 ],
 "movements": [
  {
   "id": "bloom-tone-cutoff",
   "mover": "bloom",
   "target": "layers.body.stages.tone.cutoff",
   "amount": 1.5,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "swell-tone-cutoff",
   "mover": "swell",
   "target": "layers.body.stages.tone.cutoff",
   "amount": 0.6,
   "both_ways": true,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "steps-tone",
   "mover": "steps",
   "target": "layers.body.stages.tone.cutoff",
   "amount": 1.1,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  }
 ],
 "ties": [],
 "stances": [],
 "blend": {
  "a": "",
  "b": "",
  "share": 0.0
 },
 "pins": [],
 "worked": [
  {
   "id": "glow",
   "name": "Glow",
   "on": true,
   "matched": false,
   "match": 0.0,
   "branch": "A",
   "kind": "distortion",
   "curve": "soft",
   "points": [
    {
     "at": 0.0,
     "value": 0.1,
     "bend": 0.0
    },
    {
     "at": 0.3,
     "value": 0.15,
     "bend": 0.0
    },
    {
     "at": 0.5,
     "value": 0.5,
     "bend": 0.0
    },
    {
     "at": 0.65,
     "value": 0.9,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 1.0,
     "bend": 0.0
    }
   ],
   "drive": 5.0,
   "bias": 0.0,
   "bits": 8.0,
   "rate": 12000.0,
   "focus_low": 20.0,
   "focus_high": 20000.0,
   "lift": 0.0,
   "lift_at": 800.0,
   "lift_q": 0.7,
   "mix": 50.0,
   "trim": 0.0,
   "level_match": true
  },
  {
   "id": "shape",
   "name": "Shape",
   "on": true,
   "matched": false,
   "match": 0.0,
   "kind": "eq",
   "mix": 100.0,
   "trim": 0.0,
   "bands": [
    {
     "id": "b1",
     "on": true,
     "solo": false,
     "type": "bell",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 280.0,
     "gain": -2.0,
     "q": 1.0
    },
    {
     "id": "b2",
     "on": true,
     "solo": false,
     "type": "high-shelf",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 6000.0,
     "gain": 1.5,
     "q": 0.71
    }
   ]
  },
  {
   "id": "hand",
   "name": "Even hand",
   "on": true,
   "matched": false,
   "match": 0.0,
   "mix": 100.0,
   "trim": 7.6,
   "kind": "compressor",
   "way": "downward",
   "detect": "peak",
   "threshold": -22.0,
   "ratio": 2.0,
   "knee": 9.0,
   "attack": 5.0,
   "release": 160.0,
   "hold": 12.0,
   "ahead": 0.0,
   "most": 36.0,
   "listen_low": 20.0,
   "makeup": 0.0
  }
 ],
 "returns": [
  {
   "id": "echo",
   "name": "Echo",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "echo",
     "name": "Echo",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "echo",
     "clock": "beats",
     "time": 260.0,
     "length": 0.75,
     "feedback": 35.0,
     "cross": 0.0,
     "apart": 0.0,
     "loop_low": 20.0,
     "loop_high": 5000.0,
     "detune": 0.0,
     "duck": 0.0
    }
   ]
  },
  {
   "id": "space",
   "name": "Space",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "space",
     "name": "Space",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "space",
     "way": "network",
     "shape": "silo",
     "audio": "",
     "decay": 1400.0,
     "size": 100.0,
     "ahead": 12.0,
     "early": 40.0,
     "damping": 5000.0,
     "high_cut": 9000.0,
     "width": 100.0
    }
   ]
  }
 ],
 "sends": [
  {
   "id": "echo",
   "level": -72.0
  },
  {
   "id": "space",
   "level": -72.0
  }
 ],
 "output": {
  "duck": {
   "depth": 6.0,
   "attack": 2.0,
   "hold": 40.0,
   "release": 140.0,
   "on": false
  },
  "gain": 2.0,
  "fold": false,
  "mono_below": 120.0,
  "fold_follows": false,
  "fold_times": 3.0,
  "ceiling": {
   "on": true,
   "way": "limiter",
   "limit": -1.2,
   "release": 80.0
  },
  "trim": 0.0
 },
 "waves": [],
 "backing": {
  "beat": {
   "on": false,
   "pattern": "four",
   "level": -9.0,
   "kick_pitch": 50.0,
   "kick": 0.0,
   "snare": -3.0,
   "hats": -9.0
  },
  "loops": [],
  "patches": []
 }
}
','slack-water','2026-11-28T07:38:33.317+00:00','2026-11-28T07:38:33.317+00:00',NULL);
INSERT INTO "patches" VALUES(4,1,'mud-lantern','Mud Lantern','{
 "format": "kessel-patch",
 "version": 1,
 "name": "Mud Lantern",
 "note": "A growl that talks: mouth and tongue follow one drawn curve, with two macros and two stances.",
 "tempo": 140.0,
 "tuning": 440.0,
 "seed": 1,
 "phrase": {
  "bars": 2,
  "root": "E",
  "scale": "phrygian",
  "notes": [
   {
    "id": "n1",
    "pitch": 28,
    "start": 0.0,
    "length": 1.4,
    "velocity": 112
   },
   {
    "id": "n2",
    "pitch": 28,
    "start": 1.5,
    "length": 0.45,
    "velocity": 90
   },
   {
    "id": "n3",
    "pitch": 29,
    "start": 2.0,
    "length": 0.9,
    "velocity": 104
   },
   {
    "id": "n4",
    "pitch": 28,
    "start": 3.0,
    "length": 0.9,
    "velocity": 100
   },
   {
    "id": "n5",
    "pitch": 28,
    "start": 4.0,
    "length": 1.9,
    "velocity": 112
   },
   {
    "id": "n6",
    "pitch": 31,
    "start": 6.0,
    "length": 0.9,
    "velocity": 98
   },
   {
    "id": "n7",
    "pitch": 29,
    "start": 7.0,
    "length": 0.95,
    "velocity": 104
   }
  ],
  "bend": [],
  "wheel": [],
  "pressure": []
 },
 "layers": [
  {
   "id": "sub",
   "name": "Sub",
   "hatch": "level",
   "path": "clean",
   "mute": false,
   "level": -7.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "legato",
    "voices": 4,
    "glide": 40.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 3.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "sine",
     "name": "Sine",
     "shape": "sine",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 4.0,
    "hold": 0.0,
    "decay": 500.0,
    "release": 70.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -2.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 80.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "growl",
   "name": "Growl",
   "hatch": "cross",
   "path": "worked",
   "mute": false,
   "level": -5.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "legato",
    "voices": 4,
    "glide": 40.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 4.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "carrier",
     "name": "Carrier",
     "shape": "sine",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": [
      {
       "id": "throat",
       "source": "throat",
       "way": "phase",
       "depth": 150.0,
       "share": 100.0
      },
      {
       "id": "rasp",
       "source": "rasp",
       "way": "phase",
       "depth": 40.0,
       "share": 100.0
      }
     ]
    },
    {
     "kind": "oscillator",
     "id": "throat",
     "name": "Throat",
     "shape": "sine",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 1,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "nowhere",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    },
    {
     "kind": "oscillator",
     "id": "rasp",
     "name": "Rasp",
     "shape": "sine",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 1,
     "semitones": 19.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "nowhere",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "bite",
     "name": "Bite",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "distortion",
     "curve": "soft",
     "points": [
      {
       "at": 0.0,
       "value": 0.1,
       "bend": 0.0
      },
      {
       "at": 0.3,
       "value": 0.15,
       "bend": 0.0
      },
      {
       "at": 0.5,
       "value": 0.5,
       "bend": 0.0
      },
      {
       "at": 0.65,
       "value": 0.9,
       "bend": 0.0
      },
      {
       "at": 1.0,
       "value": 1.0,
       "bend": 0.0
      }
     ],
     "drive": 12.0,
     "bias": 10.0,
     "bits": 8.0,
     "rate": 12000.0,
     "focus_low": 20.0,
     "focus_high": 20000.0,
     "lift": 0.0,
     "lift_at": 800.0,
     "lift_q": 0.7,
     "mix": 80.0,
     "trim": 0.0,
     "level_match": true
    },
    {
     "id": "mouth",
     "name": "Mouth",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "low-pass",
     "slope": "24",
     "cutoff": 330.0,
     "resonance": 8.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 0.0,
     "mix": 100.0,
     "trim": 0.0
    },
    {
     "id": "tongue",
     "name": "Tongue",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "vowel",
     "opening": 30.0,
     "tongue": 95.0,
     "speaker": "deep",
     "size": 100.0,
     "sharpness": 160.0,
     "spread": 100.0,
     "key_follow": 0.0,
     "trim": 9.0,
     "mix": 70.0
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 3.0,
    "hold": 0.0,
    "decay": 600.0,
    "release": 60.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -3.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 80.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  }
 ],
 "splits": [
  {
   "id": "low-split",
   "lower": "sub",
   "upper": "growl"
  }
 ],
 "movers": [
  {
   "kind": "lfo",
   "id": "jaw",
   "name": "Jaw",
   "shape": "triangle",
   "clock": "beats",
   "length": 1.0,
   "rate": 2.0,
   "width": 50.0,
   "phase": 270.0,
   "restart": "note",
   "once": false,
   "fade": 0.0,
   "edges": 2.0,
   "points": [
    {
     "at": 0.0,
     "value": 1.0,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 0.0,
     "bend": 0.0
    }
   ]
  },
  {
   "clock": "ms",
   "attack": 2.0,
   "hold": 0.0,
   "decay": 160.0,
   "release": 60.0,
   "attack_beats": 0.03125,
   "hold_beats": 0.0,
   "decay_beats": 1.0,
   "release_beats": 0.25,
   "attack_curve": 0.0,
   "decay_curve": 50.0,
   "release_curve": 50.0,
   "accent_decay": 40.0,
   "kind": "envelope",
   "id": "bark",
   "name": "Bark",
   "sustain": 0.0,
   "start": 0.0,
   "accent": 0.0
  },
  {
   "kind": "curve",
   "id": "words",
   "name": "Words",
   "play": "loop",
   "clock": "beats",
   "length": 4.0,
   "length_ms": 500.0,
   "hold_at": 100.0,
   "restart": "phrase",
   "snap": "1/8",
   "edges": 2.0,
   "points": [
    {
     "at": 0.0,
     "value": 0.0,
     "bend": 0.0
    },
    {
     "at": 0.25,
     "value": 1.0,
     "bend": 30.0
    },
    {
     "at": 0.5,
     "value": 0.25,
     "bend": 0.0
    },
    {
     "at": 0.75,
     "value": 0.85,
     "bend": -20.0
    },
    {
     "at": 1.0,
     "value": 0.0,
     "bend": 0.0
    }
   ]
  },
  {
   "kind": "macro",
   "id": "gape",
   "name": "Gape",
   "value": 60.0,
   "drawn": false,
   "bars": 2,
   "points": []
  },
  {
   "kind": "macro",
   "id": "snarl",
   "name": "Snarl",
   "value": 35.0,
   "drawn": false,
   "bars": 2,
   "points": []
  }
 ],
 "movements": [
  {
   "id": "jaw-mouth-cutoff",
   "mover": "jaw",
   "target": "layers.growl.stages.mouth.cutoff",
   "amount": 3.1,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "jaw-throat-depth",
   "mover": "jaw",
   "target": "layers.growl.sources.carrier.modulators.throat.depth",
   "amount": 210.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "bark-rasp-depth",
   "mover": "bark",
   "target": "layers.growl.sources.carrier.modulators.rasp.depth",
   "amount": 160.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "words-mouth",
   "mover": "words",
   "target": "layers.growl.stages.tongue.opening",
   "amount": 65.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "gape",
   "lost": ""
  },
  {
   "id": "words-tongue",
   "mover": "words",
   "target": "layers.growl.stages.tongue.tongue",
   "amount": -80.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "snarl-drive",
   "mover": "snarl",
   "target": "layers.growl.stages.bite.drive",
   "amount": 8.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "snarl-sharp",
   "mover": "snarl",
   "target": "layers.growl.stages.tongue.sharpness",
   "amount": 1.2,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  }
 ],
 "ties": [],
 "stances": [
  {
   "id": "verse",
   "name": "Verse",
   "values": {
    "gape": 35.0,
    "snarl": 10.0
   }
  },
  {
   "id": "chorus",
   "name": "Chorus",
   "values": {
    "gape": 100.0,
    "snarl": 70.0
   }
  }
 ],
 "blend": {
  "a": "verse",
  "b": "chorus",
  "share": 0.0
 },
 "pins": [],
 "worked": [
  {
   "id": "press",
   "name": "Press",
   "on": true,
   "matched": false,
   "match": 0.0,
   "branch": "A",
   "kind": "distortion",
   "curve": "soft",
   "points": [
    {
     "at": 0.0,
     "value": 0.1,
     "bend": 0.0
    },
    {
     "at": 0.3,
     "value": 0.15,
     "bend": 0.0
    },
    {
     "at": 0.5,
     "value": 0.5,
     "bend": 0.0
    },
    {
     "at": 0.65,
     "value": 0.9,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 1.0,
     "bend": 0.0
    }
   ],
   "drive": 10.0,
   "bias": 0.0,
   "bits": 8.0,
   "rate": 12000.0,
   "focus_low": 20.0,
   "focus_high": 20000.0,
   "lift": 0.0,
   "lift_at": 800.0,
   "lift_q": 0.7,
   "mix": 70.0,
   "trim": 0.0,
   "level_match": true
  },
  {
   "id": "shape",
   "name": "Shape",
   "on": true,
   "matched": false,
   "match": 0.0,
   "kind": "eq",
   "mix": 100.0,
   "trim": 0.0,
   "bands": [
    {
     "id": "b1",
     "on": true,
     "solo": false,
     "type": "bell",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 420.0,
     "gain": -2.5,
     "q": 1.4
    },
    {
     "id": "b2",
     "on": true,
     "solo": false,
     "type": "bell",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 1500.0,
     "gain": 2.0,
     "q": 0.9
    },
    {
     "id": "b3",
     "on": true,
     "solo": false,
     "type": "high-cut",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 9000.0,
     "gain": 0.0,
     "q": 0.71
    }
   ]
  },
  {
   "id": "bank",
   "name": "Bank",
   "on": true,
   "matched": false,
   "match": 0.0,
   "mix": 100.0,
   "trim": 0.06,
   "kind": "branch",
   "into": "bands",
   "split_1": 170.0,
   "split_2": 2200.0,
   "split_3": 7000.0,
   "ways": [
    {
     "id": "low",
     "name": "Low",
     "mute": false,
     "solo": false,
     "level": 0.0,
     "polarity": "normal",
     "items": []
    },
    {
     "id": "high",
     "name": "High",
     "mute": false,
     "solo": false,
     "level": 0.0,
     "polarity": "normal",
     "items": [
      {
       "id": "rasp",
       "name": "Rasp",
       "on": true,
       "matched": true,
       "match": -0.71,
       "branch": "A",
       "kind": "distortion",
       "curve": "fold",
       "points": [
        {
         "at": 0.0,
         "value": 0.1,
         "bend": 0.0
        },
        {
         "at": 0.3,
         "value": 0.15,
         "bend": 0.0
        },
        {
         "at": 0.5,
         "value": 0.5,
         "bend": 0.0
        },
        {
         "at": 0.65,
         "value": 0.9,
         "bend": 0.0
        },
        {
         "at": 1.0,
         "value": 1.0,
         "bend": 0.0
        }
       ],
       "drive": 8.0,
       "bias": 0.0,
       "bits": 8.0,
       "rate": 12000.0,
       "focus_low": 20.0,
       "focus_high": 20000.0,
       "lift": 0.0,
       "lift_at": 800.0,
       "lift_q": 0.7,
       "mix": 35.0,
       "trim": 0.0,
       "level_match": true
      },
      {
       "id": "wall",
       "name": "Wall",
       "on": true,
       "matched": false,
       "match": 0.0,
       "mix": 28.0,
       "trim": -2.17,
       "low_cut": 220.0,
       "kind": "thicken",
       "voices": 4,
       "rate": 0.6,
       "delay": 13.0,
       "detune": 8.0,
       "width": 90.0
      }
     ]
    }
   ]
  }
 ],
 "returns": [
  {
   "id": "echo",
   "name": "Echo",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "echo",
     "name": "Echo",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "echo",
     "clock": "beats",
     "time": 260.0,
     "length": 0.75,
     "feedback": 35.0,
     "cross": 0.0,
     "apart": 0.0,
     "loop_low": 20.0,
     "loop_high": 5000.0,
     "detune": 0.0,
     "duck": 0.0
    }
   ]
  },
  {
   "id": "space",
   "name": "Space",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "space",
     "name": "Space",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "space",
     "way": "network",
     "shape": "silo",
     "audio": "",
     "decay": 1400.0,
     "size": 100.0,
     "ahead": 12.0,
     "early": 40.0,
     "damping": 5000.0,
     "high_cut": 9000.0,
     "width": 100.0
    }
   ]
  }
 ],
 "sends": [
  {
   "id": "echo",
   "level": -72.0
  },
  {
   "id": "space",
   "level": -72.0
  }
 ],
 "output": {
  "duck": {
   "depth": 6.0,
   "attack": 2.0,
   "hold": 40.0,
   "release": 140.0,
   "on": false
  },
  "gain": -0.5,
  "fold": true,
  "mono_below": 120.0,
  "fold_follows": false,
  "fold_times": 3.0,
  "ceiling": {
   "on": true,
   "way": "limiter",
   "limit": -1.2,
   "release": 80.0
  },
  "trim": 0.0
 },
 "waves": [],
 "backing": {
  "beat": {
   "on": false,
   "pattern": "four",
   "level": -9.0,
   "kick_pitch": 50.0,
   "kick": 0.0,
   "snare": -3.0,
   "hats": -9.0
  },
  "loops": [],
  "patches": []
 }
}
','mud-lantern','2026-11-28T07:38:33.328+00:00','2026-11-28T07:38:33.328+00:00',NULL);
INSERT INTO "patches" VALUES(5,1,'ebb-motor','Ebb Motor','{
 "format": "kessel-patch",
 "version": 1,
 "name": "Ebb Motor",
 "note": "A slow drone that breathes over four bars: two notches cross, a drawn gate opens on every beat, surf above.",
 "tempo": 112.0,
 "tuning": 440.0,
 "seed": 1,
 "phrase": {
  "bars": 4,
  "root": "C#",
  "scale": "minor",
  "notes": [
   {
    "id": "n1",
    "pitch": 37,
    "start": 0.0,
    "length": 7.9,
    "velocity": 100
   },
   {
    "id": "n2",
    "pitch": 32,
    "start": 8.0,
    "length": 3.9,
    "velocity": 96
   },
   {
    "id": "n3",
    "pitch": 35,
    "start": 12.0,
    "length": 3.9,
    "velocity": 98
   }
  ],
  "bend": [],
  "wheel": [],
  "pressure": []
 },
 "layers": [
  {
   "id": "sub",
   "name": "Sub",
   "hatch": "level",
   "path": "clean",
   "mute": false,
   "level": -9.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "legato",
    "voices": 4,
    "glide": 160.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 0.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "sine",
     "name": "Sine",
     "shape": "sine",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 60.0,
    "hold": 0.0,
    "decay": 2000.0,
    "release": 300.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -1.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 100.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "drone",
   "name": "Drone",
   "hatch": "waves",
   "path": "worked",
   "mute": false,
   "level": 3.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "legato",
    "voices": 4,
    "glide": 160.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 0.0
   },
   "unison": {
    "copies": 4,
    "detune": 9.0,
    "width": 60.0,
    "spread": 30.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "saw",
     "name": "Motor saw",
     "shape": "saw",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": -11.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    },
    {
     "kind": "oscillator",
     "id": "pulse",
     "name": "Motor pulse",
     "shape": "pulse",
     "pulse_width": 30.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.25,
     "drift": 0.0,
     "level": -19.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "tide",
     "name": "Tide",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "low-pass",
     "slope": "24",
     "cutoff": 240.0,
     "resonance": 6.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 0.0,
     "mix": 100.0,
     "trim": 0.0
    },
    {
     "id": "rise",
     "name": "Rising notch",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "notch",
     "slope": "12",
     "cutoff": 260.0,
     "resonance": 0.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 0.0,
     "mix": 100.0,
     "trim": 0.0
    },
    {
     "id": "sink",
     "name": "Sinking notch",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "notch",
     "slope": "12",
     "cutoff": 2600.0,
     "resonance": 0.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 0.0,
     "mix": 100.0,
     "trim": 0.0
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 80.0,
    "hold": 0.0,
    "decay": 2000.0,
    "release": 400.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -1.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 100.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -16.0
    }
   ]
  },
  {
   "id": "surf",
   "name": "Surf",
   "hatch": "dots",
   "path": "clean",
   "mute": false,
   "level": -21.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "legato",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 0.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "noise",
     "id": "white",
     "name": "White",
     "colour": "white",
     "level": 0.0,
     "width": 80.0,
     "polarity": "normal",
     "to": "stages",
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "band",
     "name": "Band",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "band-pass",
     "slope": "12",
     "cutoff": 1400.0,
     "resonance": 0.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 0.0,
     "mix": 100.0,
     "trim": 0.0
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 400.0,
    "hold": 0.0,
    "decay": 2000.0,
    "release": 600.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": 0.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -10.0
    }
   ]
  }
 ],
 "splits": [
  {
   "id": "low-split",
   "lower": "sub",
   "upper": "drone"
  }
 ],
 "movers": [
  {
   "kind": "lfo",
   "id": "ebb",
   "name": "Ebb",
   "shape": "sine",
   "clock": "beats",
   "length": 16.0,
   "rate": 2.0,
   "width": 50.0,
   "phase": 270.0,
   "restart": "phrase",
   "once": false,
   "fade": 0.0,
   "edges": 2.0,
   "points": [
    {
     "at": 0.0,
     "value": 1.0,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 0.0,
     "bend": 0.0
    }
   ]
  },
  {
   "kind": "lfo",
   "id": "pump",
   "name": "Pump",
   "shape": "saw up",
   "clock": "beats",
   "length": 1.0,
   "rate": 2.0,
   "width": 50.0,
   "phase": 0.0,
   "restart": "phrase",
   "once": false,
   "fade": 0.0,
   "edges": 2.0,
   "points": [
    {
     "at": 0.0,
     "value": 1.0,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 0.0,
     "bend": 0.0
    }
   ]
  },
  {
   "kind": "lfo",
   "id": "cross",
   "name": "Cross",
   "shape": "triangle",
   "clock": "beats",
   "length": 8.0,
   "rate": 2.0,
   "width": 50.0,
   "phase": 0.0,
   "restart": "phrase",
   "once": false,
   "fade": 0.0,
   "edges": 2.0,
   "points": [
    {
     "at": 0.0,
     "value": 1.0,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 0.0,
     "bend": 0.0
    }
   ]
  },
  {
   "kind": "curve",
   "id": "gate",
   "name": "Gate",
   "play": "loop",
   "clock": "beats",
   "length": 1.0,
   "length_ms": 500.0,
   "hold_at": 100.0,
   "restart": "phrase",
   "snap": "1/16",
   "edges": 4.0,
   "points": [
    {
     "at": 0.0,
     "value": 1.0,
     "bend": 0.0
    },
    {
     "at": 0.25,
     "value": 0.55,
     "bend": 60.0
    },
    {
     "at": 0.75,
     "value": 0.0,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 0.0,
     "bend": 0.0
    }
   ]
  }
 ],
 "movements": [
  {
   "id": "ebb-tide-cutoff",
   "mover": "ebb",
   "target": "layers.drone.stages.tide.cutoff",
   "amount": 2.1,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "ebb-band-cutoff",
   "mover": "ebb",
   "target": "layers.surf.stages.band.cutoff",
   "amount": 1.3,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "pump-white-level",
   "mover": "pump",
   "target": "layers.surf.sources.white.level",
   "amount": -9.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "cross-up",
   "mover": "cross",
   "target": "layers.drone.stages.rise.cutoff",
   "amount": 3.3,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "cross-down",
   "mover": "cross",
   "target": "layers.drone.stages.sink.cutoff",
   "amount": -3.3,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "gate-level",
   "mover": "gate",
   "target": "layers.drone.level",
   "amount": -15.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  }
 ],
 "ties": [],
 "stances": [],
 "blend": {
  "a": "",
  "b": "",
  "share": 0.0
 },
 "pins": [],
 "worked": [
  {
   "id": "hull",
   "name": "Hull",
   "on": true,
   "matched": false,
   "match": 0.0,
   "branch": "A",
   "kind": "distortion",
   "curve": "soft",
   "points": [
    {
     "at": 0.0,
     "value": 0.1,
     "bend": 0.0
    },
    {
     "at": 0.3,
     "value": 0.15,
     "bend": 0.0
    },
    {
     "at": 0.5,
     "value": 0.5,
     "bend": 0.0
    },
    {
     "at": 0.65,
     "value": 0.9,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 1.0,
     "bend": 0.0
    }
   ],
   "drive": 8.0,
   "bias": 8.0,
   "bits": 8.0,
   "rate": 12000.0,
   "focus_low": 20.0,
   "focus_high": 20000.0,
   "lift": 0.0,
   "lift_at": 800.0,
   "lift_q": 0.7,
   "mix": 60.0,
   "trim": 0.0,
   "level_match": true
  },
  {
   "id": "shape",
   "name": "Shape",
   "on": true,
   "matched": false,
   "match": 0.0,
   "kind": "eq",
   "mix": 100.0,
   "trim": 0.0,
   "bands": [
    {
     "id": "b1",
     "on": true,
     "solo": false,
     "type": "bell",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 260.0,
     "gain": -2.5,
     "q": 1.0
    }
   ]
  },
  {
   "id": "room",
   "name": "Room for the kick",
   "on": true,
   "matched": false,
   "match": 0.0,
   "mix": 100.0,
   "trim": 0.13,
   "kind": "beat-shape",
   "by": "kick",
   "length": 1.0,
   "depth": 24.0,
   "soften": 3.0,
   "kick": {
    "depth": 8.0,
    "attack": 2.0,
    "hold": 40.0,
    "release": 150.0
   },
   "points": [
    {
     "at": 0.0,
     "value": 0.0,
     "bend": 0.0
    },
    {
     "at": 0.5,
     "value": 1.0,
     "bend": -30.0
    },
    {
     "at": 1.0,
     "value": 1.0,
     "bend": 0.0
    }
   ]
  }
 ],
 "returns": [
  {
   "id": "echo",
   "name": "Echo",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "echo",
     "name": "Echo",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "echo",
     "clock": "beats",
     "time": 260.0,
     "length": 0.75,
     "feedback": 35.0,
     "cross": 0.0,
     "apart": 0.0,
     "loop_low": 20.0,
     "loop_high": 5000.0,
     "detune": 0.0,
     "duck": 0.0
    }
   ]
  },
  {
   "id": "space",
   "name": "Space",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "space",
     "name": "Space",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "space",
     "way": "network",
     "shape": "silo",
     "audio": "",
     "decay": 1400.0,
     "size": 100.0,
     "ahead": 12.0,
     "early": 40.0,
     "damping": 5000.0,
     "high_cut": 9000.0,
     "width": 100.0
    }
   ]
  }
 ],
 "sends": [
  {
   "id": "echo",
   "level": -72.0
  },
  {
   "id": "space",
   "level": -72.0
  }
 ],
 "output": {
  "duck": {
   "depth": 6.0,
   "attack": 2.0,
   "hold": 40.0,
   "release": 140.0,
   "on": false
  },
  "gain": -0.5,
  "fold": true,
  "mono_below": 130.0,
  "fold_follows": false,
  "fold_times": 3.0,
  "ceiling": {
   "on": true,
   "way": "limiter",
   "limit": -1.2,
   "release": 80.0
  },
  "trim": 0.0
 },
 "waves": [],
 "backing": {
  "beat": {
   "on": false,
   "pattern": "four",
   "level": -9.0,
   "kick_pitch": 50.0,
   "kick": 0.0,
   "snare": -3.0,
   "hats": -9.0
  },
  "loops": [],
  "patches": []
 }
}
','ebb-motor','2026-11-28T07:38:33.338+00:00','2026-11-28T07:38:33.338+00:00','2026-11-28T07:38:33.733+00:00');
INSERT INTO "patches" VALUES(6,1,'salt-press','Salt Press','{
 "format": "kessel-patch",
 "version": 1,
 "name": "Salt Press",
 "note": "A short hard stab, driven before its filter, that drops onto its note.",
 "tempo": 126.0,
 "tuning": 440.0,
 "seed": 1,
 "phrase": {
  "bars": 2,
  "root": "G",
  "scale": "minor",
  "notes": [
   {
    "id": "n1",
    "pitch": 31,
    "start": 0.5,
    "length": 0.3,
    "velocity": 112
   },
   {
    "id": "n2",
    "pitch": 31,
    "start": 1.5,
    "length": 0.3,
    "velocity": 108
   },
   {
    "id": "n3",
    "pitch": 31,
    "start": 2.25,
    "length": 0.2,
    "velocity": 90
   },
   {
    "id": "n4",
    "pitch": 34,
    "start": 2.5,
    "length": 0.3,
    "velocity": 110
   },
   {
    "id": "n5",
    "pitch": 31,
    "start": 3.5,
    "length": 0.3,
    "velocity": 106
   },
   {
    "id": "n6",
    "pitch": 31,
    "start": 4.5,
    "length": 0.3,
    "velocity": 112
   },
   {
    "id": "n7",
    "pitch": 31,
    "start": 5.5,
    "length": 0.3,
    "velocity": 108
   },
   {
    "id": "n8",
    "pitch": 38,
    "start": 6.25,
    "length": 0.2,
    "velocity": 92
   },
   {
    "id": "n9",
    "pitch": 36,
    "start": 6.5,
    "length": 0.3,
    "velocity": 110
   },
   {
    "id": "n10",
    "pitch": 29,
    "start": 7.5,
    "length": 0.35,
    "velocity": 112
   }
  ],
  "bend": [],
  "wheel": [],
  "pressure": []
 },
 "layers": [
  {
   "id": "sub",
   "name": "Sub",
   "hatch": "level",
   "path": "clean",
   "mute": false,
   "level": -6.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "mono",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 6.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "sine",
     "name": "Sine",
     "shape": "sine",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 1.0,
    "hold": 0.0,
    "decay": 220.0,
    "release": 60.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -10.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 100.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "stab",
   "name": "Stab",
   "hatch": "bricks",
   "path": "worked",
   "mute": false,
   "level": 0.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "mono",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 6.0
   },
   "unison": {
    "copies": 3,
    "detune": 5.0,
    "width": 40.0,
    "spread": 12.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "saw",
     "name": "Press saw",
     "shape": "saw",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    },
    {
     "kind": "oscillator",
     "id": "square",
     "name": "Press square",
     "shape": "pulse",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 1,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": -7.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "crush",
     "name": "Press",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "distortion",
     "curve": "soft",
     "points": [
      {
       "at": 0.0,
       "value": 0.1,
       "bend": 0.0
      },
      {
       "at": 0.3,
       "value": 0.15,
       "bend": 0.0
      },
      {
       "at": 0.5,
       "value": 0.5,
       "bend": 0.0
      },
      {
       "at": 0.65,
       "value": 0.9,
       "bend": 0.0
      },
      {
       "at": 1.0,
       "value": 1.0,
       "bend": 0.0
      }
     ],
     "drive": 16.0,
     "bias": 15.0,
     "bits": 8.0,
     "rate": 12000.0,
     "focus_low": 20.0,
     "focus_high": 20000.0,
     "lift": 0.0,
     "lift_at": 800.0,
     "lift_q": 0.7,
     "mix": 100.0,
     "trim": 0.0,
     "level_match": true
    },
    {
     "id": "slam",
     "name": "Slam",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "low-pass",
     "slope": "24",
     "cutoff": 620.0,
     "resonance": 5.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 30.0,
     "mix": 100.0,
     "trim": 0.0
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 1.0,
    "hold": 30.0,
    "decay": 140.0,
    "release": 50.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -30.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 100.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "salt",
   "name": "Salt",
   "hatch": "dots",
   "path": "worked",
   "mute": false,
   "level": -9.2,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "mono",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 6.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "noise",
     "id": "grain",
     "name": "Grain",
     "colour": "white",
     "level": -4.8,
     "width": 60.0,
     "polarity": "normal",
     "to": "stages",
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "top",
     "name": "Top",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "high-pass",
     "slope": "12",
     "cutoff": 2800.0,
     "resonance": 0.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 0.0,
     "mix": 100.0,
     "trim": 0.0
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 0.5,
    "hold": 0.0,
    "decay": 38.0,
    "release": 20.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -72.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -14.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  }
 ],
 "splits": [
  {
   "id": "low-split",
   "lower": "sub",
   "upper": "stab"
  }
 ],
 "movers": [
  {
   "clock": "ms",
   "attack": 1.0,
   "hold": 0.0,
   "decay": 120.0,
   "release": 60.0,
   "attack_beats": 0.03125,
   "hold_beats": 0.0,
   "decay_beats": 1.0,
   "release_beats": 0.25,
   "attack_curve": 0.0,
   "decay_curve": 50.0,
   "release_curve": 50.0,
   "accent_decay": 40.0,
   "kind": "envelope",
   "id": "hit",
   "name": "Hit",
   "sustain": 0.0,
   "start": 0.0,
   "accent": 0.0
  },
  {
   "clock": "ms",
   "attack": 0.5,
   "hold": 0.0,
   "decay": 70.0,
   "release": 120.0,
   "attack_beats": 0.03125,
   "hold_beats": 0.0,
   "decay_beats": 1.0,
   "release_beats": 0.25,
   "attack_curve": 0.0,
   "decay_curve": 60.0,
   "release_curve": 50.0,
   "accent_decay": 40.0,
   "kind": "envelope",
   "id": "drop",
   "name": "Drop",
   "sustain": 0.0,
   "start": 0.0,
   "accent": 0.0
  }
 ],
 "movements": [
  {
   "id": "hit-slam-cutoff",
   "mover": "hit",
   "target": "layers.stab.stages.slam.cutoff",
   "amount": 2.6,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "drop-stab",
   "mover": "drop",
   "target": "layers.stab.play.pitch",
   "amount": 19.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "drop-sub",
   "mover": "drop",
   "target": "layers.sub.play.pitch",
   "amount": 12.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  }
 ],
 "ties": [],
 "stances": [],
 "blend": {
  "a": "",
  "b": "",
  "share": 0.0
 },
 "pins": [],
 "worked": [
  {
   "id": "plate",
   "name": "Plate",
   "on": true,
   "matched": false,
   "match": 0.0,
   "branch": "A",
   "kind": "distortion",
   "curve": "soft",
   "points": [
    {
     "at": 0.0,
     "value": 0.1,
     "bend": 0.0
    },
    {
     "at": 0.3,
     "value": 0.15,
     "bend": 0.0
    },
    {
     "at": 0.5,
     "value": 0.5,
     "bend": 0.0
    },
    {
     "at": 0.65,
     "value": 0.9,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 1.0,
     "bend": 0.0
    }
   ],
   "drive": 8.0,
   "bias": 0.0,
   "bits": 8.0,
   "rate": 12000.0,
   "focus_low": 20.0,
   "focus_high": 20000.0,
   "lift": 0.0,
   "lift_at": 800.0,
   "lift_q": 0.7,
   "mix": 60.0,
   "trim": 0.0,
   "level_match": true
  },
  {
   "id": "shape",
   "name": "Shape",
   "on": true,
   "matched": false,
   "match": 0.0,
   "kind": "eq",
   "mix": 100.0,
   "trim": 0.0,
   "bands": [
    {
     "id": "b1",
     "on": true,
     "solo": false,
     "type": "bell",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 350.0,
     "gain": -3.0,
     "q": 1.2
    },
    {
     "id": "b2",
     "on": true,
     "solo": false,
     "type": "high-shelf",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 5000.0,
     "gain": 2.0,
     "q": 0.71
    }
   ]
  },
  {
   "id": "punch",
   "name": "Punch",
   "on": true,
   "matched": false,
   "match": 0.0,
   "mix": 100.0,
   "trim": 4.63,
   "kind": "compressor",
   "way": "downward",
   "detect": "peak",
   "threshold": -22.0,
   "ratio": 3.0,
   "knee": 3.0,
   "attack": 30.0,
   "release": 110.0,
   "hold": 12.0,
   "ahead": 0.0,
   "most": 36.0,
   "listen_low": 20.0,
   "makeup": 0.0
  },
  {
   "id": "rim",
   "name": "Rim",
   "on": true,
   "matched": false,
   "match": 0.0,
   "mix": 100.0,
   "trim": -1.24,
   "kind": "ceiling",
   "way": "soft clip",
   "drive": 2.0,
   "limit": -2.0,
   "release": 80.0
  }
 ],
 "returns": [
  {
   "id": "echo",
   "name": "Echo",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "echo",
     "name": "Echo",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "echo",
     "clock": "beats",
     "time": 260.0,
     "length": 0.75,
     "feedback": 35.0,
     "cross": 0.0,
     "apart": 0.0,
     "loop_low": 20.0,
     "loop_high": 5000.0,
     "detune": 0.0,
     "duck": 0.0
    }
   ]
  },
  {
   "id": "space",
   "name": "Space",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "space",
     "name": "Space",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "space",
     "way": "network",
     "shape": "silo",
     "audio": "",
     "decay": 1400.0,
     "size": 100.0,
     "ahead": 12.0,
     "early": 40.0,
     "damping": 5000.0,
     "high_cut": 9000.0,
     "width": 100.0
    }
   ]
  }
 ],
 "sends": [
  {
   "id": "echo",
   "level": -72.0
  },
  {
   "id": "space",
   "level": -72.0
  }
 ],
 "output": {
  "duck": {
   "depth": 6.0,
   "attack": 2.0,
   "hold": 40.0,
   "release": 140.0,
   "on": false
  },
  "gain": 1.4,
  "fold": true,
  "mono_below": 120.0,
  "fold_follows": false,
  "fold_times": 3.0,
  "ceiling": {
   "on": true,
   "way": "limiter",
   "limit": -1.2,
   "release": 80.0
  },
  "trim": 0.0
 },
 "waves": [],
 "backing": {
  "beat": {
   "on": false,
   "pattern": "four",
   "level": -9.0,
   "kick_pitch": 50.0,
   "kick": 0.0,
   "snare": -3.0,
   "hats": -9.0
  },
  "loops": [],
  "patches": []
 }
}
','salt-press','2026-11-28T07:38:33.348+00:00','2026-11-28T07:38:33.348+00:00',NULL);
INSERT INTO "patches" VALUES(7,1,'reed-weir','Reed Weir','{
 "format": "kessel-patch",
 "version": 1,
 "name": "Reed Weir",
 "note": "Seven drawn frames that talk over the beat, sliding between notes; a rung shimmer and a knock above.",
 "tempo": 118.0,
 "tuning": 440.0,
 "seed": 1,
 "phrase": {
  "bars": 2,
  "root": "G",
  "scale": "dorian",
  "notes": [
   {
    "id": "n1",
    "pitch": 31,
    "start": 0.0,
    "length": 1.6,
    "velocity": 112
   },
   {
    "id": "n2",
    "pitch": 34,
    "start": 1.5,
    "length": 1.0,
    "velocity": 100
   },
   {
    "id": "n3",
    "pitch": 31,
    "start": 2.5,
    "length": 1.0,
    "velocity": 96
   },
   {
    "id": "n4",
    "pitch": 38,
    "start": 3.5,
    "length": 0.5,
    "velocity": 108
   },
   {
    "id": "n5",
    "pitch": 31,
    "start": 4.0,
    "length": 1.6,
    "velocity": 112
   },
   {
    "id": "n6",
    "pitch": 29,
    "start": 5.5,
    "length": 1.1,
    "velocity": 98
   },
   {
    "id": "n7",
    "pitch": 31,
    "start": 6.5,
    "length": 0.7,
    "velocity": 104
   },
   {
    "id": "n8",
    "pitch": 34,
    "start": 7.25,
    "length": 0.6,
    "velocity": 92
   }
  ],
  "bend": [
   {
    "beat": 6.5,
    "value": 0.0
   },
   {
    "beat": 7.0,
    "value": 0.0
   },
   {
    "beat": 7.2,
    "value": -0.9
   },
   {
    "beat": 7.25,
    "value": 0.0
   }
  ],
  "wheel": [],
  "pressure": []
 },
 "layers": [
  {
   "id": "sub",
   "name": "Sub",
   "hatch": "level",
   "path": "clean",
   "mute": false,
   "level": -6.5,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "legato",
    "voices": 4,
    "glide": 70.0,
    "glide_curve": 30.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 2.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "sine",
     "name": "Sine",
     "shape": "sine",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 4.0,
    "hold": 0.0,
    "decay": 900.0,
    "release": 70.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -3.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 95.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "reed",
   "name": "Reed",
   "hatch": "rising",
   "path": "worked",
   "mute": false,
   "level": -2.5,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "legato",
    "voices": 4,
    "glide": 70.0,
    "glide_curve": 30.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 5.0
   },
   "unison": {
    "copies": 3,
    "detune": 7.0,
    "width": 45.0,
    "spread": 60.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "mouth",
     "name": "Mouth",
     "shape": "drawn",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "reed-mouth",
     "position": 10.0,
     "octave": 1,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": -6.5,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    },
    {
     "kind": "oscillator",
     "id": "under",
     "name": "Under",
     "shape": "mix",
     "pulse_width": 50.0,
     "mix_a": "saw",
     "mix_b": "triangle",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": -13.5,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": false,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "lid",
     "name": "Lid",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "low-pass",
     "slope": "12",
     "cutoff": 2100.0,
     "resonance": 4.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 0.0,
     "mix": 100.0,
     "trim": 0.0
    },
    {
     "id": "grit",
     "name": "Grit",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "distortion",
     "curve": "soft",
     "points": [
      {
       "at": 0.0,
       "value": 0.1,
       "bend": 0.0
      },
      {
       "at": 0.3,
       "value": 0.15,
       "bend": 0.0
      },
      {
       "at": 0.5,
       "value": 0.5,
       "bend": 0.0
      },
      {
       "at": 0.65,
       "value": 0.9,
       "bend": 0.0
      },
      {
       "at": 1.0,
       "value": 1.0,
       "bend": 0.0
      }
     ],
     "drive": 14.5,
     "bias": 0.0,
     "bits": 8.0,
     "rate": 12000.0,
     "focus_low": 20.0,
     "focus_high": 20000.0,
     "lift": 0.0,
     "lift_at": 800.0,
     "lift_q": 0.7,
     "mix": 60.0,
     "trim": 0.0,
     "level_match": true
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 6.0,
    "hold": 0.0,
    "decay": 700.0,
    "release": 80.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -4.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 95.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "shimmer",
   "name": "Shimmer",
   "hatch": "cross",
   "path": "worked",
   "mute": false,
   "level": -16.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "legato",
    "voices": 4,
    "glide": 70.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 8.0
   },
   "unison": {
    "copies": 2,
    "detune": 5.0,
    "width": 70.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "glass",
     "name": "Glass",
     "shape": "triangle",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 2,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 4.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": [
      {
       "id": "rung",
       "source": "bar",
       "way": "ring",
       "depth": 0.0,
       "share": 80.0
      }
     ]
    },
    {
     "kind": "oscillator",
     "id": "bar",
     "name": "Bar",
     "shape": "sine",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 1,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.5,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "nowhere",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "thin",
     "name": "Thin",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "high-pass",
     "slope": "12",
     "cutoff": 600.0,
     "resonance": 0.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 0.0,
     "mix": 100.0,
     "trim": 0.0
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 2.0,
    "hold": 0.0,
    "decay": 420.0,
    "release": 120.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -18.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 500.0,
    "high": 20000.0,
    "where": "before"
   },
   "chain": [
    {
     "id": "tide",
     "name": "Slow tide",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 35.0,
     "trim": -0.25,
     "low_cut": 150.0,
     "clock": "Hz",
     "rate": 0.18,
     "length": 4.0,
     "kind": "chorus",
     "voices": 3,
     "delay": 12.0,
     "depth": 3.0,
     "width": 80.0
    }
   ],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "knock",
   "name": "Knock",
   "hatch": "dots",
   "path": "clean",
   "mute": false,
   "level": -13.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "mono",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 10.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "sample",
     "id": "wood",
     "name": "Wood",
     "audio": "click:knock",
     "title": "Knock",
     "play": "once",
     "begins": "note",
     "start": 0.0,
     "end": 60000.0,
     "follows": "fixed",
     "root": 65.406,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "level": 0.0,
     "width": 100.0,
     "polarity": "normal",
     "to": "stages",
     "modulators": []
    }
   ],
   "stages": [],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 0.5,
    "hold": 0.0,
    "decay": 200.0,
    "release": 30.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": 0.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 350.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -10.0
    }
   ]
  }
 ],
 "splits": [
  {
   "id": "sub-reed",
   "lower": "sub",
   "upper": "reed"
  }
 ],
 "movers": [
  {
   "kind": "lfo",
   "id": "talk",
   "name": "Talk",
   "shape": "triangle",
   "clock": "beats",
   "length": 1.0,
   "rate": 2.0,
   "width": 50.0,
   "phase": 270.0,
   "restart": "phrase",
   "once": false,
   "fade": 0.0,
   "edges": 2.0,
   "points": [
    {
     "at": 0.0,
     "value": 1.0,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 0.0,
     "bend": 0.0
    }
   ]
  },
  {
   "clock": "ms",
   "attack": 5.0,
   "hold": 0.0,
   "decay": 260.0,
   "release": 120.0,
   "attack_beats": 0.03125,
   "hold_beats": 0.0,
   "decay_beats": 1.0,
   "release_beats": 0.25,
   "attack_curve": 0.0,
   "decay_curve": 50.0,
   "release_curve": 50.0,
   "accent_decay": 40.0,
   "kind": "envelope",
   "id": "lift",
   "name": "Lift",
   "sustain": 10.0,
   "start": 0.0,
   "accent": 0.0
  },
  {
   "kind": "macro",
   "id": "gape",
   "name": "Gape",
   "value": 20.0,
   "drawn": false,
   "bars": 2,
   "points": []
  },
  {
   "kind": "hand",
   "id": "wheel",
   "name": "Wheel",
   "what": "wheel"
  }
 ],
 "movements": [
  {
   "id": "talk-mouth",
   "mover": "talk",
   "target": "layers.reed.sources.mouth.position",
   "amount": 60.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "gape-mouth",
   "mover": "gape",
   "target": "layers.reed.sources.mouth.position",
   "amount": 30.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "lift-lid",
   "mover": "lift",
   "target": "layers.reed.stages.lid.cutoff",
   "amount": 1.6,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "wheel-lid",
   "mover": "wheel",
   "target": "layers.reed.stages.lid.cutoff",
   "amount": 1.5,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "wheel-ring",
   "mover": "wheel",
   "target": "layers.shimmer.sources.glass.level",
   "amount": 8.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  }
 ],
 "ties": [],
 "stances": [],
 "blend": {
  "a": "",
  "b": "",
  "share": 0.0
 },
 "pins": [],
 "worked": [
  {
   "id": "drive",
   "name": "Drive",
   "on": true,
   "matched": false,
   "match": 0.0,
   "branch": "A",
   "kind": "distortion",
   "curve": "soft",
   "points": [
    {
     "at": 0.0,
     "value": 0.1,
     "bend": 0.0
    },
    {
     "at": 0.3,
     "value": 0.15,
     "bend": 0.0
    },
    {
     "at": 0.5,
     "value": 0.5,
     "bend": 0.0
    },
    {
     "at": 0.65,
     "value": 0.9,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 1.0,
     "bend": 0.0
    }
   ],
   "drive": 7.0,
   "bias": 0.0,
   "bits": 8.0,
   "rate": 12000.0,
   "focus_low": 20.0,
   "focus_high": 20000.0,
   "lift": 0.0,
   "lift_at": 800.0,
   "lift_q": 0.7,
   "mix": 70.0,
   "trim": 0.0,
   "level_match": true
  },
  {
   "id": "shape",
   "name": "Shape",
   "on": true,
   "matched": false,
   "match": 0.0,
   "kind": "eq",
   "mix": 100.0,
   "trim": 0.0,
   "bands": [
    {
     "id": "b1",
     "on": true,
     "solo": false,
     "type": "bell",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 290.0,
     "gain": -2.5,
     "q": 1.1
    },
    {
     "id": "b2",
     "on": true,
     "solo": false,
     "type": "high-shelf",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 6000.0,
     "gain": -3.0,
     "q": 0.7
    }
   ]
  },
  {
   "id": "cone",
   "name": "Cone",
   "on": true,
   "matched": false,
   "match": 0.0,
   "mix": 35.0,
   "trim": 0.73,
   "kind": "cabinet",
   "way": "built-in",
   "box": "closed",
   "audio": "",
   "size": 140.0,
   "bass": 0.0,
   "treble": 0.0,
   "air": 20.0
  }
 ],
 "returns": [
  {
   "id": "echo",
   "name": "Echo",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "echo",
     "name": "Echo",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "echo",
     "clock": "beats",
     "time": 260.0,
     "length": 0.75,
     "feedback": 35.0,
     "cross": 0.0,
     "apart": 0.0,
     "loop_low": 20.0,
     "loop_high": 5000.0,
     "detune": 0.0,
     "duck": 0.0
    }
   ]
  },
  {
   "id": "space",
   "name": "Space",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "space",
     "name": "Space",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "space",
     "way": "network",
     "shape": "silo",
     "audio": "",
     "decay": 1400.0,
     "size": 100.0,
     "ahead": 12.0,
     "early": 40.0,
     "damping": 5000.0,
     "high_cut": 9000.0,
     "width": 100.0
    }
   ]
  }
 ],
 "sends": [
  {
   "id": "echo",
   "level": -72.0
  },
  {
   "id": "space",
   "level": -72.0
  }
 ],
 "output": {
  "duck": {
   "depth": 6.0,
   "attack": 2.0,
   "hold": 40.0,
   "release": 140.0,
   "on": false
  },
  "gain": 0.0,
  "fold": true,
  "mono_below": 120.0,
  "fold_follows": false,
  "fold_times": 3.0,
  "ceiling": {
   "on": true,
   "way": "limiter",
   "limit": -1.5,
   "release": 80.0
  },
  "trim": 0.0
 },
 "waves": [
  {
   "id": "reed-mouth",
   "name": "Reed mouth",
   "frames": [
    "AACyGIYcfiZLLNU0zDpvQh5I8U4jVCNat17gY8FnD2wvb6By+nSQdyR55nq3e658x3wAfW18+XvJerp5Anhsdj50OHKpb0htb2rKZ7xk6GG6XsxbklieVWlSf09gTJFJlUbtQyBBqT4UPNY5gDeBNW0zrjHeL2Iu1SyZK0wqTSk9KHYnnCYHJl0l8yRyJCwkyyOgI1kjQiMNIwMj1yLTIqwiqCJ/InciSCI3Iv8h4yGgIXghKSHzIJkgWCDzH6kfPB/rHnkeJR6zHV8d8RyiHDwc9xueG2kbIRv/Gs0awhqrGrsawBruGhMbYRunGxYcfxwQHZodTB73HskfkyCBIWcicCNuJI0loCbPJ/EoLSpZK5wszC0QLz8wfjGlMtsz9TQaNiM3MzglORw68zrMO4Q8PD3SPWc+2T5JP5U/3z8FQChAKEAmQAFA2j+RP0g/3z52Pu89aT3HPCk8cTu+OvI5LzlVOIU3ojbJNeA0BTQaMz8yVzGAMJ4vzy72LTItZiyuK/EqSSqdKQYpbCjnJ2An7iZ6JhwmuiVvJSAl5iSpJIAkUyQ6JBwkESQBJAEk/CMHJAskHiQpJEMkUyRxJIUkpSS7JNwk8iQSJSclRSVXJXIlgSWZJaQltyW9JcwlziXXJdQl2SXSJdIlxyXDJbQlrSWbJZElfCVwJVolTCU1JSclDyUAJekk2yTEJLckoiSWJIIkeCRmJF0kTSRGJDgkMiQmJCIkFiQTJAkkByT9I/sj8CPuI+Mj3yPTI84jwCO4I6cjnCOJI3ojYyNQIzUjHiP+IuIivSKdInMiTiIfIvQhwCGRIVghJCHmIK4gbSAwIOsfqx9jHyAf1R6QHkMe/B2vHWcdGR3RHIMcOxzuG6gbXRsYG84ajBpFGgUawhmFGUUZDBnPGJoYYhgwGPwXzheeF3QXSBciF/kW1xayFpQWchZWFjcWHxYCFuwV0hW9FaUVkhV7FWkVUxVBFSwVGhUFFfMU3RTLFLUUohSKFHYUXRRIFC4UFxT7E+ITxROqE4sTbxNPEzETDhPvEssSqhKEEmISOxIXEu8RyhGhEXsRURErEQAR2RCuEIYQWxAzEAgQ3w+0D4wPYQ84Dw0P5Q67DpMOaA5BDhcO7w3FDZ4NdQ1ODSUN/gzVDK4MhQxeDDUMDwzmC78LlgtvC0ULHgv0CswKowp6ClAKJwr8CdMJqAl+CVIJKAn8CNEIpQh5CEwIIQjzB8cHmgdtB0AHEwflBrkGiwZfBjEGBQbXBasFfgVTBSYF+wTPBKUEegRQBCYE/APTA6sDggNbAzMDDQPmAsECmwJ3AlICLgILAugBxQGjAYEBYAE/AR4B/QDdAL0AnQB+AF4APwAfAAAA4f/B/6L/gv9j/0P/I/8D/+L+wf6g/n/+Xf47/hj+9f3S/a79if1l/T/9Gv3z/M38pfx+/FX8LfwE/Nr7sPuG+1v7MfsF+9r6rfqC+lX6Kfr7+c/5ofl1+Uf5G/nt+MD4k/hm+Dn4Dfjf97T3h/db9y/3BPfY9q72gvZY9i32BPbZ9bD1hvVd9TT1DPXi9Lv0kfRq9EH0GvTx88vzovN781LzK/MC89vysvKL8mLyO/IR8unxv/GY8W3xRfEb8fPwyPCf8HTwTPAh8Pjvze+l73rvUu8n7wDv1e6v7oXuX+427hHu6e3F7Z7tfO1W7TXtEe3y7M/sseyR7HXsVuw77B7sBezp69LruOuj64rrdute60vrNesj6w3r++rm6tTqv+qt6pfqhepu6lvqQ+ou6hTq/unh6cnpqumO6WzpTukp6Qfp3ui46IzoYugy6ATo0Oee52bnMef05rvme+Y+5vvlu+V05TLl6OSj5FjkEuTF433jL+Pn4pniUeIE4r3hcOEr4eDgneBV4BXg0N+T31LfGt/c3qjeb95A3gze4d2y3Y3dY91D3R7dAt3i3MvcsNyd3Ibcd9xk3FncSNxA3DLcLdwh3B3cEtwQ3AXcA9z52/fb7dvq297b2tvO28jbutuz26PbmtuI237batte20nbPNsl2xfbANvx2tnay9q02qbakNqE2m/aZdpT2kzaPdo52i7aLton2izaKdoy2jTaQ9pJ2lzaZ9p/2o7aqdq72tna7toO2yTbRdtb23vbj9ut273b19vi2/Xb+dsE3P/b/9vv2+Tbxtut24DbV9sa2+DakdpG2uTZhtkS2aDYGdiU1/rWY9a31Q/VUtSa087SCtIx0WLQgM+pzsHN5sz7yyDLN8peyXvIq8fRxg7GQsWPxNfDOcOXwhHCisEhwbjAb8AmwP+/2r/Yv9i/+78hwGvAt8AnwZnBLsLEwnzDNMQNxeTF28bNx93I5skLyyXMW82CzsHP8NA00mTTp9TT1Q/XMdhg2XPaktuQ3Jndf95t3zfgCeG04Wbi8OKB4+rjWeSf5O3kEuVA5UXlVeU+5TPlAeXf5JfkYuQJ5MTjXuMP46HiTeLb4YfhFeHE4FfgDeCo32ffDd/X3ojeYN4d3gHeyd243Yndgd1Y3VTdLd0p3f3c89y+3KfcYNw13NTbjtsN26Pa+dlk2YrYw9ez1rTVZ9Qr057RItBSzpPMf8qAyCrG7MNXweC+E7xruW+2oLOBsJetYqpupzSkRqEYnkSbNpiRlbiSV5DIjcKLlIn+h0aGN4UHhJODAIM5g1KDSYQahdyGcIgGi2CN0ZDxkz+YIJxJod2l3asPseK3kb00xSvLtdOC2XrjTuc=",
    "AABhGasfZCsiMyM9h0QoTbFT71pbYCtmV2q0bpNxhHQYdq93CHhheJ133HYfdW9z5XBzbklrR2itZElha13TWdtVN1JKTr1K+0ahQyJAEj3oOS83ZTQNMqkvsy20Kx8qgChFJ/0lEyUYJHMjuiJOIsohiyExIRQh2CDTIK0guSCgILcgqCDEILwg3CDYIPwg/SAlISshVyFkIZghrSHpIQgiTSJ2IsUi+SJRI44j7iMzJJgk4iRJJZQl+iVCJqMm5CY7J3EnuyfiJxsoMChVKFcoZyhUKE4oJigNKNInpSdaJx8nxyaBJiIm1iV1JSolyySGJDIk+SOzI4wjWyNJIzEjOSM9I2IjgyPGIwUkZyTEJEIluyVTJuQmkic3KPcoqyl2KjMrAyzDLJMtTy4XL8kvhTAnMdAxXTLuMmMz2TMxNIk0wzT7NBU1LjUoNSE1/DTXNJU0VTT5M6AzLjPBMjwyvjErMaAwAzBwL80uNi6RLfosWCzEKycrmioFKoEp9ih9KP4nkSceJ74mWSYHJq8laSUfJeYkpyR6JEYkJCT6I+EjwCOvI5YjiyN4I3MjZSNkI1ojXCNVI1ojVSNbI1cjXiNbI2IjYCNnI2QjayNoI24jaiNwI2sjbyNqI20jZiNoI2EjYSNYI1cjTCNJIz0jOCMqIyMjEyMLI/ki7yLbIs4iuCKqIpIigiJpIlciPCIpIg0i+CHbIcUhpyGQIXIhWyE8ISQhBiHuINAguCCaIIMgZSBPIDEgGyD+H+gfyx+1H5gfgh9mH08fMh8bH/0e5h7HHq4ejh5zHlEeNR4SHvMdzh2tHYUdYh04HRMd5hy+HJAcZhw1HAkc1huoG3MbQxsNG90aphp0GjwaChrSGaAZaRk3GQAZzxiZGGkYNBgGGNMXphd1F0oXGxfyFsUWnhZzFk8WJhYDFt0VvBWYFXkVVhU5FRgV/BTdFMIUpBSKFG0UVBQ3FB4UAhTqE84TtROZE4ETZBNMEy8TFhP4Et8SwRKmEogSbRJNEjESERL1EdQRthGVEXYRVBE1ERIR8xDPEK8QixBqEEUQJBD/D90PuA+VD3APTQ8nDwQP3g67DpUOcQ5LDicOAQ7dDbcNkw1tDUkNIw3/DNkMtQyPDGsMRAwhDPsL1wuxC40LZwtDCx0L+QrTCq8KiQplCj8KGwr1CdAJqgmGCWAJOwkVCfAIyQikCH4IWQgyCA0I5gfAB5kHdAdMBycH/wbZBrIGjAZlBj8GFwbxBcoFpAV9BVcFMAUKBeMEvgSXBHIETAQnBAEE3AO3A5IDbQNJAyUDAQPeAroClwJ0AlECLwINAusByQGnAYYBZQFEASMBAgHiAMEAoQCBAGAAQAAgAAAA4P/A/6D/f/9f/z//Hv/+/t3+vP6b/nr+Wf43/hX+8/3R/a/9jP1p/Ub9Iv3//Nv8t/yT/G78Sfwk/P/72fu0+477aftC+x379vrQ+qn6g/pc+jb6D/rp+cH5m/l0+U75J/kB+dn4tPiM+Gf4QPga+PP3zven94L3XPc39xD36/bF9qD2evZW9jD2C/bl9cH1m/V39VH1LfUH9eP0vfSZ9HP0T/Qp9AX03/O885XzcfNL8yfzAfPd8rfyk/Jt8knyI/L/8dnxtfGP8WvxRfEi8fzw2fCz8JDwa/BI8CPwAfDc77vvlu9171HvMe8N7+7uy+6s7orua+5K7izuC+7v7c/ts+2T7XjtWu0/7SHtCO3q7NHstOyc7H/sZ+xL7DLsFuz+6+Lryeus65Prdutc6z7rI+sE6+jqx+qq6ofqaOpE6iPq/ena6bHpjeli6TvpDunl6Lboi+ha6C3o+ufM55fnZ+cx5wDnyeaX5mDmLub25cTljOVa5SPl8+S95I3kWOQq5Pfjy+Oa43DjQuMa4+3iyOKe4nviU+Iy4g3i7uHL4a/hjeFy4VLhOeEa4QPh5eDO4LHgmuB+4GjgS+A14BjgAuDl38/fsd+b333fZt9I3zDfEt/63tzexN6l3o7ecN5Z3jveJd4I3vPd193E3andl91+3W7dVt1I3TLdJd0R3Qfd9dzt3N3c1tzI3MPct9y03KncqNyf3J/cmNya3JPcltyR3JXckNyW3JLcmNyV3Jzcmdyg3J7cpdyi3Kncpdyr3Kbcq9yk3KbcnNyb3I3ciNx13GrcUdxA3B/cBtzc27rbhttZ2xrb4dqX2lHa+dmn2ULZ4thv2ALYg9cK13/W+9Vm1dnUPNSo0wbTb9LK0TPRkND9z2DP1c5CzsTNP83SzGDMB8yry2vLKcsEy9/K2MrSyuvKBcs9y3fLz8snzJ3MEs2jzTDO2c57zzfQ6dCx0W3SPdP9083UitVV1gnXyddu2BzZrdlF2r7aPNuZ2/vbOtx93J7cw9zH3M/ct9yl3HTcTdwH3M7bets129bai9oq2t7Zf9k52eHYpthb2C7Y89fa17LXrNeZ16nXq9fQ1+XXHthF2I/Yxdgc2V3ZvtkG2mzat9oe22jbzdsS3HLcr9wH3Tvdit2z3fjdF95T3mjenN6p3tXe294D3wTfKN8k30TfPN9Y30nfYN9H31PfLd8o3+zez9513jbest1G3Y3c6Nvt2gPau9iA1+HVTNRN0lfQ882by9HIGMbuwt6/X7wFuUO1trHJrSWqLaaVoreeU5u5l7eUjZEbj5GM4YokiWOIn4f4h1GI6Il8i22OTJGpldWZpZ8RpU+s2LJ5u93C3syc1FXgn+Y=",
    "AAARGs8iSzD5OXBFQk7gV0Nf7GaTbDJy93WJeWR7+nwAfb18FnsxeRd20nKIbi9qA2XmXyZallSQTthI1EI6PXg3NjLrLDIohyN5H4kbOxgVFZISORB9DugM5wsHC60KagqcCtoKfAscDBAN9A0cDygQaBGDEsYT2xQOFg0XJBgEGfcZtBqCGxocxRw+Hc0dLh6pHvwebR+8Hy0ggyD/IGQh8iFuIhQjqiNrJB4l+SXGJrknmyifKY8qnSuRLJ4tjC6ML2kwUTESMtcycDMJNHI01zQJNTQ1LDUaNdY0iDQJNIMzzjIUMjAxTDBCLz0uGC39K8oqpilwKE8nIyYSJfojAyMLIjchZiC9HxofoB4vHugdqh2VHYkdph3JHRMeYR7RHkMf0x9hIAkhqyFiIg8jzSN8JDgl4SWUJjEn0yddKOooXSnRKSoqgiq+KvkqGSs4KzwrQCsrKxgr7CrEKoYqTCoAKropZCkWKbkoZygJKLYnWScJJ7AmZiYUJtAlhiVLJQol2CSgJHckRyQmJP4j5SPEI7AjlCOFI20jYSNMI0EjLSMjIw8jBSPwIuQiziLBIqkimiKBInEiViJEIikiFyL7IekhzSG8IaEhkSF4IWkhUyFGITIhKCEWIQ4h/yD6IO0g6SDeINsg0SDPIMUgwyC5ILYgqiCmIJggkSCAIHYgYiBUIDwgKSANIPcf1h+7H5cfeB9PHywfAR/aHqwegx5SHice9R3JHZYdah04HQwd2hyvHH8cVhwoHAIc1huyG4kbaBtCGyQbARvmGsYarRqQGnkaXhpJGjAaHRoFGvMZ2xnKGbMZoRmKGXgZYBlNGTUZIRkHGfEY1hi/GKMYihhsGFIYMhgXGPYX2Re2F5gXdRdWFzIXEhftFswWpxaGFmEWQBYaFvkV1BWzFY4VbhVJFSkVBRXlFMEUoRR+FF4UOxQcFPkT2hO3E5gTdhNXEzQTFRPzEtQSsRKSEnASUBIuEg4S7BHMEakRihFnEUcRJREFEeIQwxCgEIEQXhA/EBwQ/Q/bD7wPmg98D1oPPA8aD/wO2w68DpwOfQ5dDj4OHg4ADt8NwQ2gDYINYQ1CDSENAw3iDMMMoQyCDGAMQQwfDP8L3Qu9C5sLegtYCzcLFAvzCtEKsAqNCmsKSAonCgQK4wnACZ8JfAlbCTgJFwn1CNQIsgiRCG8ITwgtCAwI6wfLB6kHiQdoB0gHJwcHB+YGxgalBoYGZQZFBiQGBQbkBcQFpAWEBWMFQwUiBQIF4QTBBKAEgARfBD8EHgT9A9wDvAOaA3oDWQM4AxcD9gLVArQCkwJyAlECMAIPAu4BzQGsAYsBagFJASgBBwHmAMUApACDAGMAQgAhAAAA3/++/53/ff9c/zv/Gv/5/tj+t/6W/nX+VP4z/hL+8f3Q/a/9jv1t/Uz9K/0K/en8yPyn/Ib8ZvxE/CT8A/zi+8H7ofuA+2D7P/sf+/763vq9+p36fPpc+jz6HPr7+dz5u/mb+Xr5W/k6+Rr5+fjZ+Lj4mPh3+Ff4NfgV+PT30/ex95H3b/dO9yz3C/fp9sj2pfaE9mH2QPYd9vz12fW49ZX1c/VQ9S/1DfXs9Mn0qPSG9GX0Q/Qj9AH04fO/86DzfvNf8z3zHvP98t/yvvKf8n7yYPI/8iHyAPLi8cLxo/GD8WTxRPEl8QTx5vDE8KbwhPBm8ETwJfAD8OTvwe+i73/vYO897x7v++7b7rnume527lfuNO4U7vLt0u2w7ZDtbu1P7SztDe3r7MzsqeyK7GjsSewm7Afs5OvF66Lrgutf6z/rG+v76tfqt+qS6nLqTeos6gfq5unA6Z/peulZ6TTpE+nu6M7oquiL6GjoSugn6Aro6efO567nlOd2513nQecq5w/n+ebf5svms+ag5ojmduZf5k3mNuYl5g3m++Xj5dDlt+Wi5YflcOVT5TrlGuX/5NzkvuSY5HfkTuQq5P7j2OOq44HjUeMm4/TiyOKW4mriN+IL4tnhruF94VThJuH/4NTgseCI4GngReAq4Ang89/X38TfrN+e34rfgN9v32jfWt9W30rfR9893zvfMd8v3yXfIt8X3xPfBt8B3/Le6t7Y3s7eut6t3pfeiN5v3l/eRN4z3hfeBd7p3dfdvN2q3Y/df91m3VfdP90y3RzdEN373PHc3dzT3L/ctNyf3JPce9xs3FDcPNwb3ALc2tu524nbYNso2/batdp62jDa7Nma2VDZ99in2ErY99eZ10fX6tac1kbWANa01XrVPNUU1ejU1dTA1MTUyNTn1AfVQtV+1dbVL9aj1hbXo9ct2M/YbNkf2sjahNsz3PHcnt1V3vfen98t4L3gL+Gf4e3hN+Ja4nfia+JW4hji0eFg4ebgQ+Ca38ne9d393Abc7trd2bHYkNda1jbVA9To0sPRvtC0z9DO7M0yzX3M98t4yyrL5srUyszK98opy47L98uQzCnN7s2vzpfPdNB00WLSb9Nj1HHVYdZl10fYOtkH2uLaldtW3Ozckt0O3pzeAd9939PfROCT4AThV+HS4TPiwuI74+bjfuRM5Qnm/Obc5/Po8ukl6zrsfe2Y7tjv5PAM8vDy5POE9Cb1ZPWW9VP1+fQZ9Bjzg/HH727t6+rF53fkh+B53M7XFdPKzYjIxsIsvSi3cLFqq9qlGqD9mtGVeJEujemJz4bqhEODAIMGg5yEd4YJis6NbZMUmb2gIKi+sZC6B8a1zzHd7+U=",
    "AACZINkvQUJCT+xb4mNwatdswG1Ua+lnOGJUXEZV4E5KSAxDUT5QOyQ5uzgdOfg6Rj2LQMBDUUdKShFNz075T9xPAk/fTBNKNkb1QQU9FzjrMi0unynbJZgiWSDDHkAeZR6AHxghayP4Je8o0ivQLnIx6zPUNWw3WjjrONY4cziIN3E2ADWSM/oxlDAwLyIuNi2zLF8sdiy3LFQtCC4AL/EvCDH9MfoyvjN2NOY0QDVQNUw1BTW1NDM0uTMfM54yETKrMUUxETHhMOQw6jAbMUYxkTHIMRAyNjJfMlkySzIHMrQxKjGQMMMv7S7sLewszSu5KpQphihxJ30miyW/JPojXiPJIlwi8yGuIWohRSEbIQsh8SDuIN4g4SDYIOAg3SDsIPEgCiEcIUMhZCGcIc8hGCJbIrQiBCNnI74jJCR8JN0kLSWCJcMlByY0JmMmeyaUJpcmnCaMJoEmZCZNJicmCybhJcMlmyV/JVolQyUiJRAl9STnJNAkxiSyJKkklySPJH4kdyRlJF4kTSRHJDckMyQlJCMkGCQYJBAkFCQPJBUkEyQbJBokIyQiJCkkJyQtJCgkKyQjJCIkFyQSJAQk/SPsI+Mj0CPGI7IjqCOVI4sjeSNwI18jVyNII0EjMyMsIx4jGCMKIwMj8yLrItoi0CK9IrEinCKNInYiZSJLIjciGyIFIuchzyGuIZMhcCFTIS0hDiHmIMQgmiB2IEogIyD2H80fnh91H0UfGh/qHr8ejh5kHjQeCh7bHbIdhB1dHTAdCx3gHLsckhxvHEccJRz/G94buBuZG3QbVRswGxEb7hrPGqsajRppGksaJxoIGuQZxRmhGYEZXRk9GRgZ9xjSGLEYixhpGEIYIBj5F9cXrxeNF2UXQhcaF/cW0BatFoUWYhY8FhkW8hXQFaoViBViFUEVHBX6FNYUtRSRFHAUTBQsFAkU6RPGE6YTgxNkE0ETIRP/EuASvRKeEnwSXRI7EhwS+hHbEbkRmhF5EVoROBEaEfgQ2hC4EJoQeRBbEDoQGxD7D90PvA+eD30PYA8/DyIPAQ/kDsQOpg6GDmkOSQ4rDgsO7Q3NDbANkA1yDVINNA0TDfUM1Ay2DJUMdwxWDDcMFgz3C9YLtguVC3YLVAs0CxML8wrRCrEKjwpvCk0KLQoLCusJyQmpCYcJZglECSQJAgnhCL8Inwh9CF0IOwgaCPkH2Ae2B5YHdAdTBzIHEQfvBs8GrQaMBmoGSQYnBgYG5AXDBaEFgAVeBT0FGgX5BNcEtQSTBHEETwQtBAoE6APGA6QDgQNfAz0DGgP4AtYCswKRAm4CTAIpAgcC5AHBAZ8BfAFaATcBFAHyAM8ArQCKAGgARQAjAAAA3f+7/5j/dv9T/zH/Dv/s/sn+pv6E/mH+P/4c/vn91/20/ZL9b/1N/Sr9CP3m/MP8ofx//Fz8OvwY/Pb70/ux+4/7bftL+yn7B/vm+sP6ovqA+l/6Pfoc+vr52fm3+Zb5dPlT+TH5Efnv+M74rfiM+Gr4Svgo+Af45vfF96P3g/dh90H3H/f+9tz2vPaa9nn2V/Y39hX29fXT9bP1kfVx9U/1L/UN9e30zPSs9Ir0a/RK9Cr0CfTq88nzqvOJ82vzSvMs8wvz7fLM8q7yjvJw8lDyM/IT8vXx1fG38ZfxevFa8TzxHPH/8N7wwfCg8IPwYvBE8CPwBfDl78bvpe+H72bvSO8m7wjv5u7I7qbuh+5m7kfuJe4G7uTtxe2j7YTtYu1D7SDtAe3f7L/snOx97FrsOuwX7Pfr1Ou065Drb+tL6yrrBuvk6r/qnup46lbqMOoO6ufpxOme6XvpU+kw6Qnp5ui+6Jvoc+hR6CnoB+jg577nl+d150/nLucJ5+jmw+aj5n/mX+Y75hzm+OXZ5bXll+Vz5VXlMeUS5e/k0OSr5IzkZ+RI5CLkAeTb47njkeNu40XjIOP14tDio+J84k7iJeL24czhnOFy4UHhFuHm4Lvgi+Bi4DPgCuDd37bfit9m3zzfGt/y3tPerd6Q3m3eUt4x3hne+93l3cndtd2b3Yrdc91k3U/dQ90w3SbdFd0N3f3c9tzo3OLc1NzN3L/cuNyp3KHckNyH3HXca9xY3E7cOtww3B3cFNwD3Pzb7tvp297b3dvV29jb09vZ29fb3tvd2+bb5dvt2+vb8dvs2/Db6Nvo293b29vN28nbuduz26Lbm9uJ24Lbcdtp21fbTts62zDbGdsL2/Da3tq92qbagdpl2j3aH9r12dnZs9mc2X/ZdNlk2WnZbNmF2Z3ZzNn52T3aftrT2iPbhNvc20Lcmdz83Ezdpd3o3THeZN6c3r3e5N723g/fFN8j3yDfKN8f3yLfEt8P3/Xe5d673pbeUt4N3qTdN92i3AbcQdt12oPZj9h612zWR9Uz1BTTFNIT0T3QcM/WzkzO+c21zafNoc3KzfDNOM5vzrrO5c4WzxzPH8/vzrvOVc7vzWLN4cxHzM3LS8v7yrTKsMrAyhrListCzAbNA874zg/QANH40azSSdOK06HTTdPK0t7R0NBszwbObswAy4/JeMiNxyrHFcemx5TILMoVzI7OMNEu1BHXCNqV3OjegOCb4cDhPeGn32jdJdph1tPRFc3px/vCC77Kue21IbP+sCSwB7Axse+ytrWvuEC8db+6wgjF48ZFx9zGsMSvwfS8trcgsbqqrKPInReYrJRAkimTkJUenBSkvrC/vSfQZ98=",
    "AAAiJ+I8OFSLZGdygXkAfWx6k3QWaqBdeE4fPygvxiCVE1wJiwFu/TL8pf6yA8ELiRUvIVktDToDRkpRy1q5YkFozWvTbPNr5WhyZIFe8lfAUMlJBkM6PUg4yjR/MtMxXzJjNFc3WjvTP89EsEmFTrtSblYmWRJb2lvIW6BawlgLVutSTE+iS9pHYkQiQXg+Pjy+OsI5gDmxOXw6jTsAPX4+HkCMQeFC0kOBRK5Eh0TaQ99Cb0HMP9c91TusOZ83lTXKMyIy0DCxL/EuZC4tLhouSi6HLusuQS+jL90vDTAFMOUvhi8ML1cujy2XLJsrgSp1KV4oZidyJqsl8yRtJPojuSOHI4AjgCOgI7sj6SMHJC0kOSRGJDMkHSTmI64jWSMHI58iQiLWIX0hHSHWII4gYyA7IDAgJyA6IEwgdiCaINAg/CA0IVwhjSGrIc4h3SHxIfEh9yHtIesh2yHXIckhySHCIc0h0iHoIfshHiI8ImoikSLFIvAiJiNQI4IjqCPUI/EjFSQqJEYkVCRoJHAkgSSGJJUkmySrJLQkxyTTJOok+SQTJSUlQSVTJW4lgCWYJaYluyXEJdMl1yXgJd8l4yXcJdwl0iXPJcMlvyWyJawlnyWaJYwlhyV6JXQlZiVfJVAlRyU2JSolFiUHJe8k3STBJKwkjSR1JFQkOSQWJPkj1SO3I5IjdCNOIy8jCSPqIsQipCJ9IlsiMyIRIughxCGZIXQhRyEgIfMgyiCcIHIgQyAYIOgfvh+NH2MfMh8IH9cerR59HlIeIh74Hcgdnh1uHUMdEx3oHLccjBxcHDAcABzVG6QbeRtJGx4b7hrDGpQaaho7GhEa4xm6GY0ZZBk3GQ8Z4xi7GI8YaBg8GBUY6hfDF5kXchdIFyIX+RbTFqoWhRZdFjgWEBbtFcUVohV7FVkVMhUQFesUyRSkFIIUXhQ9FBgU+BPUE7QTkBNwE00TLRMLE+sSyRKqEogSaRJIEikSCBLqEckRqxGKEW0RTBEvEQ4R8RDRELQQlBB3EFcQOhAaEP0P3Q/AD6EPhA9kD0cPKA8LD+wOzw6wDpMOcw5WDjcOGg77Dd4Nvg2hDYINZA1FDScNCA3qDMoMrQyNDG8MTwwxDBEM8wvTC7QLlAt1C1ULNgsWC/cK1gq3CpYKdwpWCjcKFgr2CdUJtQmTCXMJUgkyCRAJ7wjOCK0IiwhqCEgIJwgFCOQHwQegB30HXAc5BxcH9AbTBrAGjgZrBkgGJQYDBuAFvQWaBXcFUwUxBQ0F6gTGBKMEgARdBDkEFQTxA84DqgOHA2MDPwMbA/cC0wKvAosCZwJDAh8C+wHXAbMBjwFqAUYBIgH+ANkAtQCRAG0ASQAkAAAA3P+3/5P/b/9L/yf/Av/e/rr+lv5x/k3+Kf4F/uH9vf2Z/XX9Uf0t/Qn95fzB/J38efxW/DL8D/zr+8f7o/uA+137OvsW+/P6z/qt+on6ZvpD+iD6/fnb+bj5lfly+VD5LfkM+en4x/ik+IP4YPg/+Bz4+/fZ97j3lvd191P3MvcR9/D2zvau9o32bfZL9iv2Cvbq9cn1qvWJ9Wr1SfUq9Qn16vTK9Kv0i/Rs9Ez0LfQN9O/zz/Ox85Hzc/NT8zbzFvP48tnyu/Kc8n7yX/JC8iLyBfLm8cnxqvGN8W3xUPEx8RTx9fDY8LnwnPB88F/wQPAj8APw5u/G76nvie9s70zvL+8P7/Lu0e607pPudu5V7jfuFu747dftuO2X7XjtVu037RXt9ezT7LPskOxw7EzsLOwI7Ojrw+ui637rXOs36xXr8OrO6qfqhepe6jvqE+rw6cjpo+l76VbpLekH6d7ouOiO6GfoPegW6OvnxOeY53HnRecd5/Hmyeac5nPmRuYd5u/lxeWW5WzlPeUS5eLkt+SH5FzkK+QA5NDjpON040njGOPt4r3ikuJi4jjiCOLe4a7hg+FT4Snh+ODO4J3gc+BC4Bjg6N+9347fZN823w3f4N653ozeZ9483hje793N3aXdg91c3TzdFt333NHcstyM3G7cSdwr3Afc6tvH26zbi9tz21TbP9sj2xHb+drq2tbaytq52rDaodqa2ozahtp52nTaZtph2lTaTtpB2j3aMdou2iTaJNod2iHaINop2i3aPNpF2lraaNqA2pLardq/2tva7doH2xbbLds520zbVdtl22vbett/25DbmNus27rb1tvr2w/cLNxY3H7csNza3BDdO91v3ZbdxN3i3QXeGN4u3jPePt433jfeKd4l3hXeE94J3g/eD94j3jLeVd5z3qTezN4E3zDfZt+K37Tfxt/Z39Dfxd+d33LfKt/j3oPeKt6+3WHd+dyn3FLcGtzj283butvH29Pb+dsX3EXcYNyA3IDcedxH3Abck9sN21Xajtma2KLXi9Z/1WXUadNx0qnR9NB60BvQ+8/zzyPQXdC/0BXRedG20ebR09Gc0Q/RT9Awz97NNsxrymHIVMYrxCnCNMCRviG9Jrx5u1K7f7suvB+9dL7iv4LBAMNzxITFT8aAxj7GQsXCw4jB3r6euya4XrS0sBWt9ak+p2ClOKQmpO6k2qaSqUWte7FQtjG7LcCmxKnIncuhzS3Ogc02y7jHxsL6vDe2QK8OqH+hjpsblw2ULZMzlL+XR501pbau/bnzxafS0d536j/0TvxbAc4DkgJ1/qT2a+w639jQ4cCIsWCi6pVti5SFAIN/hpmNdZvIqx7D3tg=",
    "AABrIwI1eEkJWMxlTG7fdLx2m3apclBtUmXdXAlTwUlAQCc4sTAuK8cmfCRgIy8k6CUVKbAsKDGANR46Hj7tQcxEN0eUSHRJYEn2SNpHsEYqRelDoELjQV5BkEEZQl5D80QoR4VJS0z8TtBRTlSsVntY91nAWh1bvlr3WYZYylaPVDhSmE8RTXpKL0gCRkdEyELNQRhB5UDuQGVB/kHjQslD10TBRbBGX0f4Rz5IYkgsSNRHKkdoRmRFWkQkQ/1Bv0CjP4E+jz2iPOo7Oju9OkM69TmhOW05Jzn1OKg4ZDj9N5o3ETeLNuE1PTV7NMYz+zJFMoMx3DAvMKQvGC+wLkcuAC63LYstWC09LRUt/izVLLYsgCxSLAosxytsKxcrqypJKtQpbCn2KJIoJCjLJ2wnJSfZJqUmbSZLJiUmEyb5JfAl3iXaJcklxSWxJaglkCWCJWQlUSUvJRkl9iTgJL8krCSPJIIkbCRlJFckWCRQJFckVSRfJGEkbSRvJHwkfSSIJIckjySMJJEkjCSPJIkkjCSGJIokhSSLJIkkkiSSJJ4koiSwJLYkxiTMJN0k4yTzJPkkBiUKJRUlFyUfJR4lJSUhJSYlISUkJR4lICUaJRwlFiUYJRIlFSUPJRElCyUMJQUlBiX+JP0k8yTxJOUk4STTJM0kviS1JKQkmiSIJH0kaiRdJEkkPCQnJBkkAyT0I94jziO3I6YjjSN7I2EjTiMzIx0jASPqIswitCKVInwiXCJCIiEiBSLkIcghpSGJIWYhSCElIQYh4iDEIJ8gfyBaIDkgEyDyH8sfqR+BH14fNh8SH+kexR6bHnceTR4oHv0d2B2tHYgdXR03HQwd5Ry6HJMcZxxAHBUc7RvBG5obbRtFGxkb8RrEGpwabxpGGhoa8RnEGZsZbhlGGRkZ8BjDGJoYbhhFGBgY7xfCF5oXbRdEFxcX7xbCFpkWbRZEFhcW7xXCFZoVbRVFFRkV8BTEFJwUcBRIFBwU9BPJE6ETdhNOEyMT+xLQEqgSfRJWEisSBBLZEbIRiBFgETYRDxHlEL4QlRBuEEQQHhD0D84PpQ9+D1UPLw8GD+AOuA6SDmkOQw4bDvUNzg2oDYANWg0zDQ0N5gzBDJkMdAxNDCgMAQzcC7ULkQtqC0ULHwv6CtQKsAqJCmUKPwobCvUJ0QmrCYcJYQk+CRgJ9AjPCKsIhghiCD0IGgj1B9EHrQeJB2UHQQcdB/oG1QayBo4GawZGBiMG/wXcBbgFlQVyBU8FKwUIBeQEwgSeBHsEWAQ1BBIE7wPMA6kDhgNjA0ADHgP6AtgCtQKSAm8CTQIqAgcC5QHCAZ8BfQFaATcBFQHyAM8ArQCKAGgARQAjAAAA3f+7/5j/dv9T/zH/Dv/r/sn+pv6D/mH+Pv4b/vn91v2z/ZH9bv1L/Sj9Bv3i/MD8nfx6/Ff8NPwR/O77y/uo+4X7Yvs++xz7+PrV+rH6jvpr+kj6JPoB+t35uvmV+XL5Tvkr+Qb54/i/+Jv4d/hT+C/4C/jm98P3nvd691X3MfcM9+j2wvaf9nn2VfYv9gv25fXB9Zv1d/VQ9Sz1BvXh9Lv0lvRv9Ev0JPT/89jzs/OM82fzP/Ma8/PyzfKm8oDyWPIy8gvy5fG98ZfxbvFI8SDx+vDR8KvwgvBb8DLwDPDi77zvku9r70LvG+/x7sruoO547k7uJ+787dXtqu2D7VjtMO0F7d3ssuyK7F/sN+wM7OTruOuQ62TrPOsQ6+fqu+qT6mbqPuoR6unpvOmT6WfpPukR6enovOiT6GboPugR6Ojnu+eS52bnPecQ5+fmuuaS5mXmPOYP5ubluuWR5WTlPOUP5efku+ST5GbkP+QT5OvjwOOZ423jRuMb4/TiyeKj4njiU+Io4gPi2OGz4YnhZeE74Rfh7uDK4KLgf+BX4DXgDuDt38ffpt+B32HfPN8e3/re29643pred95b3jjeHN773d/dvt2k3YTda91M3TTdFt3/3OPczdyy3J/chdxz3FrcSdwy3CLcDNz92+fb2dvE27fbo9uW24PbeNtm21zbS9tC2zPbLdsf2xvbD9sN2wPbAtv62vva9Nr12u/a8drr2u7a6Nrq2uTa5trg2uLa3Nrf2tra39rb2uLa4drp2uva9tr62gfbDdsd2yPbNNs620rbUNte22Lbbttu23fbddt723bbett023fbcdt022/bdNtx23nbeNuD24TbkduT25/bodur26nbsNuo26nbm9uU237bcdtU20HbINsK2+fa0dqv2pzaftpw2ljaT9o72jfaJtoi2hDaB9rt2dvZtdmT2VvZJ9nb2JTYNdjc127XCteU1izWt9VV1enUlNQ51PbTrtOA00rTK9MC0+vSw9Ko0nXSSdIA0rnRUNHo0FzQ0c8kz33Ou80FzTrMhcvDyh/KdcnvyGbIA8icx1jHC8fZxpPGX8YLxr3FQ8XGxBbEXsNxwn/BXcBBvwO+3Lymu5y6mLnWuCy41Leet8K3CLihuFC5P7opuze8Hb0Cvpu+Er8bv+i+M744vbm7/rnRt4a177JosMitcas2qXqnCaZCpeOkQKUJpoWnVKmyqzCuBLG1s3u22LgNu6K8571wvqK+Hb5gvRe81rpQuSa4Cregtoy2bLfJuDS7E77iweLFgMrYzlDT69YY2tHboNyE2znZ0tRPz9nHwL8/tvesI6OumrCSV41liUSJIYu0kTSa96eItv7Kldw=",
    "AACzHyItuD6GSzFZF2O+bA1zo3g9ewB9LHyceut2vHLsbPJm11/tWFxRVEoOQ508Rjb6MAgsQyj9JPEicSEiIVchoCJVJPUm2yl6LTIxbjWTOQg+OkKMRnVKV06yUelUh1fuWbRbPF0lXtJe7F7UXjpegF1aXChboVklWG1W01QUU4VR40+BThpN+0viShVKUkncSG5ISkgrSE5IbkjHSBRJkEn2SYBK7EpwS85LPEx+TMlM5EwDTfBM30ybTFpM6Ut7S+FKTkqSSeJIEEhMR2xGn0W7RO5DDUNIQnNBu0D2P1A/nT4KPmw96zxgPPE7djsVO6c6UjrtOZ45PjnyOJM4RzjmN5Y3MTfbNnA2FDaiNT81xzReNOEzcjPxMoAy/TGKMQgxljAWMKcvKy/BLksu5y13LRotsyxdLP0rrytXKxErwCqAKjYq/Cm4KYMpQykTKdcoqihyKEcoESjpJ7UnjidcJzcnBifiJrMmkSZkJkMmGCb6JdEltSWPJXYlUyU8JRwlCSXtJN0kwyS3JKEklySFJH4kbiRrJF4kXCRSJFMkSiRNJEYkSyRFJEskRyRNJEskUiRQJFgkViRfJF4kZiRmJG8kbyR4JHkkgiSDJIwkjSSXJJgkoiSkJK4kryS5JLskxSTGJNAk0STbJNwk5CTlJO0k7iT1JPUk/CT6JAAl/iQDJQAlBCUAJQIl/ST/JPgk+STxJPAk5yTlJNsk1yTMJMckuiS0JKYkniSPJIYkdiRrJFkkTSQ6JC0kGCQJJPQj4yPMI7sjoiOPI3UjYSNGIzAjEyP8It4ixSKmIowiayJQIi4iESLuIdAhrCGMIWchRiEgIf4g1iCzIIogZiA8IBcg7B/GH5ofcx9GHx4f8R7IHpkebx5AHhUe5R26HYkdXR0rHf4czRyfHGwcPhwLHNwbqRt5G0UbFRvhGrEafBpLGhYa5RmwGX4ZSRkXGeIYsBh6GEgYEhjfF6kXdxdBFw4X2BamFnAWPRYHFtUVnxVsFTcVBBXPFJwUZxQ1FAAUzhOZE2cTMhMAE8wSmxJmEjUSARLREZ0RbBE5EQkR1hCmEHQQRBASEOMPsQ+CD1EPIw/yDsQOkw5mDjYOCA7ZDawNfQ1QDSIN9gzIDJwMbgxDDBYM6wu+C5QLZws9CxIL6Aq9CpMKaApAChUK7QnDCZsJcQlJCSAJ+QjQCKkIgQhbCDMIDQjlB78HmAdzB0wHJwcBB9wGtgaRBmwGSAYiBv4F2QW2BZEFbgVKBSYFAgXfBLwEmQR2BFMEMAQOBOsDyQOmA4QDYgNAAx4D/ALaArkClwJ1AlQCMgIRAvABzgGtAYwBawFKASkBBwHnAMYApQCEAGMAQgAhAAAA3/++/53/fP9b/zr/Gf/5/tf+tv6V/nT+U/4y/hD+7/3O/az9i/1p/Uf9Jv0E/eL8wPye/Hz8Wvw3/BX88vvQ+637ivtn+0T7Ifv++tr6tvqS+m/6Svon+gL63vm4+ZT5b/lK+ST5//jZ+LT4jfho+EH4G/jz9833pfd/91f3MPcH9+D2t/aP9mX2PfYT9uv1wPWY9W31Q/UY9e70w/SZ9Gz0QvQV9OrzvfOS82TzOPMK897ysPKD8lTyJ/L48crxmvFt8TzxDvHd8K/wfvBP8B3w7u+874zvWu8q7/fux+6U7mPuL+7/7cvtmu1l7TTtAO3O7JnsZ+wy7ADsy+uZ62TrMev86snqlOph6ivq+enD6ZDpWuko6fLov+iJ6FfoIeju57jnhudQ5x7n6ea35oLmUOYb5urlteWE5U/lH+Xr5Lvkh+RX5CTk9ePC45TjYeMz4wLj1eKj4nfiRuIb4uvhwOGR4WfhOOEP4eLguuCN4GbgOuAU4OnfxN+a33bfTd8q3wLf4N663pnedN5U3jDeEt7v3dLdsN2V3XTdWt073SLdBN3t3NDcutyf3Ivccdxe3EXcNNwd3Azc99vo29Pbxtuz26fblduK23rbcdti21rbTNtG2znbNNsp2yXbG9sZ2xDbD9sH2wjbAdsD2/7aANv82gDb/doC2wDbBtsE2wvbC9sS2xPbG9sc2yTbJdsv2zDbOts720XbR9tR21LbXNte22jbadtz23Tbfdt+24fbiNuR25Hbmtua26Lboduq26jbsNuu27Xbs9u527Xbu9u127rbs9u2263brtuk26LblduS24Lbe9tp21/bSds92yPbE9v32uTaxNqt2oracdpL2i/aBtro2b3ZnNlv2U3ZHtn62MnYpNhy2EvYF9jv17nXjtdW1ynX7da91n3WSNYE1srVgNVA1e/UqdRR1APUo9NN0+bSidIZ0rXRP9HV0FnQ6s9qz/jOds4DzoDND82OzB/Moss5y8HKXsrsyZDJJcnPyGrIGsi5x23HDsfCxmLGE8auxVnF68SKxA/EoMMVw5TC9sFjwbDACsBFv42+uL3zvBK8RbthupS5tLjwtx63braytR+1hbQXtKazZbMhsxCz/bIcszezgrPEszK0kLQUtYC1CrZwtuy2ObeSt7K31be2t5K3JLeutuu1HrUFtOayf7EdsHuu7Kwtq5Op26dfptikpqOAosahLKEUoS6h26HEokykEqZ5qBerTq6psYu1dLnGvfjBbcaSys7OhtIl1gvZq9tg3ane3t6P3g/dA9u91/jTBs+6yWPD8rystaSuE6cpoA6ZFJNEjRWJZIXUgwCDw4Rdh/OMQpPpnM+merRIwd7STeA="
   ]
  }
 ],
 "backing": {
  "beat": {
   "on": false,
   "pattern": "four",
   "level": -9.0,
   "kick_pitch": 50.0,
   "kick": 0.0,
   "snare": -3.0,
   "hats": -9.0
  },
  "loops": [],
  "patches": []
 }
}
','reed-weir','2026-11-28T07:38:33.358+00:00','2026-11-28T07:38:33.358+00:00',NULL);
INSERT INTO "patches" VALUES(8,1,'salt-press-copy','Salt​Press copy','{
 "format": "kessel-patch",
 "version": 1,
 "name": "Salt​Press copy",
 "note": "A short hard stab, driven before its filter, that drops onto its note.",
 "tempo": 99.5,
 "tuning": 440.0,
 "seed": 1,
 "phrase": {
  "bars": 2,
  "root": "G",
  "scale": "minor",
  "notes": [
   {
    "id": "n1",
    "pitch": 31,
    "start": 0.5,
    "length": 0.3,
    "velocity": 112
   },
   {
    "id": "n2",
    "pitch": 31,
    "start": 1.5,
    "length": 0.3,
    "velocity": 108
   },
   {
    "id": "n3",
    "pitch": 31,
    "start": 2.25,
    "length": 0.2,
    "velocity": 90
   },
   {
    "id": "n4",
    "pitch": 34,
    "start": 2.5,
    "length": 0.3,
    "velocity": 110
   },
   {
    "id": "n5",
    "pitch": 31,
    "start": 3.5,
    "length": 0.3,
    "velocity": 106
   },
   {
    "id": "n6",
    "pitch": 31,
    "start": 4.5,
    "length": 0.3,
    "velocity": 112
   },
   {
    "id": "n7",
    "pitch": 31,
    "start": 5.5,
    "length": 0.3,
    "velocity": 108
   },
   {
    "id": "n8",
    "pitch": 38,
    "start": 6.25,
    "length": 0.2,
    "velocity": 92
   },
   {
    "id": "n9",
    "pitch": 36,
    "start": 6.5,
    "length": 0.3,
    "velocity": 110
   },
   {
    "id": "n10",
    "pitch": 29,
    "start": 7.5,
    "length": 0.35,
    "velocity": 112
   }
  ],
  "bend": [],
  "wheel": [],
  "pressure": []
 },
 "layers": [
  {
   "id": "sub",
   "name": "Sub",
   "hatch": "level",
   "path": "clean",
   "mute": false,
   "level": -6.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "mono",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 6.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "sine",
     "name": "Sine",
     "shape": "sine",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 1.0,
    "hold": 0.0,
    "decay": 220.0,
    "release": 60.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -10.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 100.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "stab",
   "name": "Stab",
   "hatch": "bricks",
   "path": "worked",
   "mute": false,
   "level": 0.0,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "mono",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 6.0
   },
   "unison": {
    "copies": 3,
    "detune": 5.0,
    "width": 40.0,
    "spread": 12.0
   },
   "sources": [
    {
     "kind": "oscillator",
     "id": "saw",
     "name": "Press saw",
     "shape": "saw",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 0,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": 0.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    },
    {
     "kind": "oscillator",
     "id": "square",
     "name": "Press square",
     "shape": "pulse",
     "pulse_width": 50.0,
     "mix_a": "triangle",
     "mix_b": "saw",
     "mix": 50.0,
     "wave": "stock:first-three",
     "position": 0.0,
     "octave": 1,
     "semitones": 0.0,
     "cents": 0.0,
     "ratio": 1.0,
     "offset": 0.0,
     "drift": 0.0,
     "level": -7.0,
     "polarity": "normal",
     "start": "restart",
     "phase": 0.0,
     "chance": 30.0,
     "unison": true,
     "to": "stages",
     "sync": "off",
     "sync_to": "",
     "sync_interval": 12.0,
     "twin": "off",
     "twin_shift": 180.0,
     "skew": 0.0,
     "partial_low": 1.0,
     "partial_high": 256.0,
     "partial_edge": 1.0,
     "stretch": 0.0,
     "scatter": 0.0,
     "feedback": 0.0,
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "crush",
     "name": "Press",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "distortion",
     "curve": "soft",
     "points": [
      {
       "at": 0.0,
       "value": 0.1,
       "bend": 0.0
      },
      {
       "at": 0.3,
       "value": 0.15,
       "bend": 0.0
      },
      {
       "at": 0.5,
       "value": 0.5,
       "bend": 0.0
      },
      {
       "at": 0.65,
       "value": 0.9,
       "bend": 0.0
      },
      {
       "at": 1.0,
       "value": 1.0,
       "bend": 0.0
      }
     ],
     "drive": 16.0,
     "bias": 15.0,
     "bits": 8.0,
     "rate": 12000.0,
     "focus_low": 20.0,
     "focus_high": 20000.0,
     "lift": 0.0,
     "lift_at": 800.0,
     "lift_q": 0.7,
     "mix": 100.0,
     "trim": 0.0,
     "level_match": true
    },
    {
     "id": "slam",
     "name": "Slam",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "low-pass",
     "slope": "24",
     "cutoff": 620.0,
     "resonance": 5.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 30.0,
     "mix": 100.0,
     "trim": 0.0
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 1.0,
    "hold": 30.0,
    "decay": 140.0,
    "release": 50.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -30.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 100.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -72.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  },
  {
   "id": "salt",
   "name": "Salt",
   "hatch": "dots",
   "path": "worked",
   "mute": false,
   "level": -9.2,
   "pan": 0.0,
   "width": 100.0,
   "polarity": "normal",
   "delay": 0.0,
   "in_step": "",
   "play": {
    "mode": "mono",
    "voices": 4,
    "glide": 0.0,
    "glide_curve": 0.0,
    "glide_when": "overlap",
    "bend_range": 2.0,
    "transpose": 0,
    "fine": 0.0,
    "pitch": 0.0,
    "interval": 7.0,
    "interval_level": -72.0,
    "velocity": 6.0
   },
   "unison": {
    "copies": 1,
    "detune": 12.0,
    "width": 60.0,
    "spread": 100.0
   },
   "sources": [
    {
     "kind": "noise",
     "id": "grain",
     "name": "Grain",
     "colour": "white",
     "level": -4.8,
     "width": 60.0,
     "polarity": "normal",
     "to": "stages",
     "modulators": []
    }
   ],
   "stages": [
    {
     "id": "top",
     "name": "Top",
     "on": true,
     "matched": false,
     "match": 0.0,
     "branch": "A",
     "kind": "filter",
     "type": "high-pass",
     "slope": "12",
     "cutoff": 2800.0,
     "resonance": 0.0,
     "morph": 0.0,
     "drive": 0.0,
     "key_follow": 0.0,
     "mix": 100.0,
     "trim": 0.0
    }
   ],
   "branches": {
    "way": "series",
    "mix": 50.0
   },
   "envelope": {
    "clock": "ms",
    "attack": 0.5,
    "hold": 0.0,
    "decay": 38.0,
    "release": 20.0,
    "attack_beats": 0.03125,
    "hold_beats": 0.0,
    "decay_beats": 1.0,
    "release_beats": 0.25,
    "attack_curve": 0.0,
    "decay_curve": 50.0,
    "release_curve": 50.0,
    "accent_decay": 40.0,
    "sustain": -72.0,
    "start": -72.0,
    "accent": 0.0
   },
   "range": {
    "low": 20.0,
    "high": 20000.0,
    "where": "after"
   },
   "chain": [],
   "sends": [
    {
     "id": "echo",
     "level": -14.0
    },
    {
     "id": "space",
     "level": -72.0
    }
   ]
  }
 ],
 "splits": [
  {
   "id": "low-split",
   "lower": "sub",
   "upper": "stab"
  }
 ],
 "movers": [
  {
   "clock": "ms",
   "attack": 1.0,
   "hold": 0.0,
   "decay": 120.0,
   "release": 60.0,
   "attack_beats": 0.03125,
   "hold_beats": 0.0,
   "decay_beats": 1.0,
   "release_beats": 0.25,
   "attack_curve": 0.0,
   "decay_curve": 50.0,
   "release_curve": 50.0,
   "accent_decay": 40.0,
   "kind": "envelope",
   "id": "hit",
   "name": "Hit",
   "sustain": 0.0,
   "start": 0.0,
   "accent": 0.0
  },
  {
   "clock": "ms",
   "attack": 0.5,
   "hold": 0.0,
   "decay": 70.0,
   "release": 120.0,
   "attack_beats": 0.03125,
   "hold_beats": 0.0,
   "decay_beats": 1.0,
   "release_beats": 0.25,
   "attack_curve": 0.0,
   "decay_curve": 60.0,
   "release_curve": 50.0,
   "accent_decay": 40.0,
   "kind": "envelope",
   "id": "drop",
   "name": "Drop",
   "sustain": 0.0,
   "start": 0.0,
   "accent": 0.0
  }
 ],
 "movements": [
  {
   "id": "hit-slam-cutoff",
   "mover": "hit",
   "target": "layers.stab.stages.slam.cutoff",
   "amount": 2.6,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "drop-stab",
   "mover": "drop",
   "target": "layers.stab.play.pitch",
   "amount": 19.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  },
  {
   "id": "drop-sub",
   "mover": "drop",
   "target": "layers.sub.play.pitch",
   "amount": 12.0,
   "both_ways": false,
   "curve": 0.0,
   "scaled_by": "",
   "lost": ""
  }
 ],
 "ties": [],
 "stances": [],
 "blend": {
  "a": "",
  "b": "",
  "share": 0.0
 },
 "pins": [],
 "worked": [
  {
   "id": "plate",
   "name": "Plate",
   "on": true,
   "matched": false,
   "match": 0.0,
   "branch": "A",
   "kind": "distortion",
   "curve": "soft",
   "points": [
    {
     "at": 0.0,
     "value": 0.1,
     "bend": 0.0
    },
    {
     "at": 0.3,
     "value": 0.15,
     "bend": 0.0
    },
    {
     "at": 0.5,
     "value": 0.5,
     "bend": 0.0
    },
    {
     "at": 0.65,
     "value": 0.9,
     "bend": 0.0
    },
    {
     "at": 1.0,
     "value": 1.0,
     "bend": 0.0
    }
   ],
   "drive": 8.0,
   "bias": 0.0,
   "bits": 8.0,
   "rate": 12000.0,
   "focus_low": 20.0,
   "focus_high": 20000.0,
   "lift": 0.0,
   "lift_at": 800.0,
   "lift_q": 0.7,
   "mix": 60.0,
   "trim": 0.0,
   "level_match": true
  },
  {
   "id": "shape",
   "name": "Shape",
   "on": true,
   "matched": false,
   "match": 0.0,
   "kind": "eq",
   "mix": 100.0,
   "trim": 0.0,
   "bands": [
    {
     "id": "b1",
     "on": true,
     "solo": false,
     "type": "bell",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 350.0,
     "gain": -3.0,
     "q": 1.2
    },
    {
     "id": "b2",
     "on": true,
     "solo": false,
     "type": "high-shelf",
     "slope": "12",
     "tied": false,
     "times": 4.0,
     "frequency": 5000.0,
     "gain": 2.0,
     "q": 0.71
    }
   ]
  },
  {
   "id": "punch",
   "name": "Punch",
   "on": true,
   "matched": false,
   "match": 0.0,
   "mix": 100.0,
   "trim": 4.63,
   "kind": "compressor",
   "way": "downward",
   "detect": "peak",
   "threshold": -22.0,
   "ratio": 3.0,
   "knee": 3.0,
   "attack": 30.0,
   "release": 110.0,
   "hold": 12.0,
   "ahead": 0.0,
   "most": 36.0,
   "listen_low": 20.0,
   "makeup": 0.0
  },
  {
   "id": "rim",
   "name": "Rim",
   "on": true,
   "matched": false,
   "match": 0.0,
   "mix": 100.0,
   "trim": -1.24,
   "kind": "ceiling",
   "way": "soft clip",
   "drive": 2.0,
   "limit": -2.0,
   "release": 80.0
  }
 ],
 "returns": [
  {
   "id": "echo",
   "name": "Echo",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "echo",
     "name": "Echo",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "echo",
     "clock": "beats",
     "time": 260.0,
     "length": 0.75,
     "feedback": 35.0,
     "cross": 0.0,
     "apart": 0.0,
     "loop_low": 20.0,
     "loop_high": 5000.0,
     "detune": 0.0,
     "duck": 0.0
    }
   ]
  },
  {
   "id": "space",
   "name": "Space",
   "on": true,
   "level": 0.0,
   "low_cut": 150.0,
   "chain": [
    {
     "id": "space",
     "name": "Space",
     "on": true,
     "matched": false,
     "match": 0.0,
     "mix": 100.0,
     "trim": 0.0,
     "low_cut": 20.0,
     "kind": "space",
     "way": "network",
     "shape": "silo",
     "audio": "",
     "decay": 1400.0,
     "size": 100.0,
     "ahead": 12.0,
     "early": 40.0,
     "damping": 5000.0,
     "high_cut": 9000.0,
     "width": 100.0
    }
   ]
  }
 ],
 "sends": [
  {
   "id": "echo",
   "level": -72.0
  },
  {
   "id": "space",
   "level": -72.0
  }
 ],
 "output": {
  "duck": {
   "depth": 6.0,
   "attack": 2.0,
   "hold": 40.0,
   "release": 140.0,
   "on": false
  },
  "gain": 1.4,
  "fold": true,
  "mono_below": 120.0,
  "fold_follows": false,
  "fold_times": 3.0,
  "ceiling": {
   "on": true,
   "way": "limiter",
   "limit": -1.2,
   "release": 80.0
  },
  "trim": 0.0
 },
 "waves": [],
 "backing": {
  "beat": {
   "on": false,
   "pattern": "four",
   "level": -9.0,
   "kick_pitch": 50.0,
   "kick": 0.0,
   "snare": -3.0,
   "hats": -9.0
  },
  "loops": [],
  "patches": []
 }
}
',NULL,'2026-11-28T07:38:33.645+00:00','2026-11-28T07:38:33.704+00:00',NULL);
CREATE TABLE reference_stretches (
	patch_id INTEGER NOT NULL, 
	audio VARCHAR(80) NOT NULL, 
	start FLOAT NOT NULL, 
	seconds FLOAT NOT NULL, 
	tempo FLOAT NOT NULL, 
	PRIMARY KEY (patch_id), 
	FOREIGN KEY(patch_id) REFERENCES patches (id) ON DELETE CASCADE
);
CREATE TABLE rooms (
	id VARCHAR(32) NOT NULL, 
	body TEXT NOT NULL, 
	made VARCHAR(40) NOT NULL, 
	PRIMARY KEY (id)
);
CREATE TABLE sets (
	id INTEGER NOT NULL, 
	name VARCHAR(60) NOT NULL, 
	limits TEXT NOT NULL, 
	demo BOOLEAN NOT NULL, 
	PRIMARY KEY (id)
);
INSERT INTO "sets" VALUES(1,'Tide Mill','{}',1);
CREATE TABLE steps (
	id INTEGER NOT NULL, 
	patch_id INTEGER NOT NULL, 
	label TEXT NOT NULL, 
	there TEXT NOT NULL, 
	back TEXT NOT NULL, 
	undone BOOLEAN NOT NULL, 
	made VARCHAR(40) NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(patch_id) REFERENCES patches (id) ON DELETE CASCADE
);
INSERT INTO "steps" VALUES(1,2,'Output gain 2.0 dB → −1.0 dB','[["output.gain", -1.0]]','[["output.gain", 2.0]]',0,'2026-11-28T07:38:33.414+00:00');
INSERT INTO "steps" VALUES(2,2,'Output gain −1.0 dB → −2.5 dB','[["output.gain", -2.5]]','[["output.gain", -1.0]]',0,'2026-11-28T07:38:33.454+00:00');
INSERT INTO "steps" VALUES(3,2,'Output gain −2.5 dB → −3.0 dB','[["output.gain", -3.0]]','[["output.gain", -2.5]]',0,'2026-11-28T07:38:33.479+00:00');
INSERT INTO "steps" VALUES(4,2,'Add Distortion','[["layers.body.stages", [{"id": "pluck", "name": "Pluck", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "filter", "type": "low-pass", "slope": "24", "cutoff": 230.0, "resonance": 5.0, "morph": 0.0, "drive": 0.0, "key_follow": 60.0, "mix": 100.0, "trim": 0.0}, {"id": "distortion", "name": "Distortion", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "distortion", "curve": "soft", "points": [{"at": 0.0, "value": 0.1, "bend": 0.0}, {"at": 0.3, "value": 0.15, "bend": 0.0}, {"at": 0.5, "value": 0.5, "bend": 0.0}, {"at": 0.65, "value": 0.9, "bend": 0.0}, {"at": 1.0, "value": 1.0, "bend": 0.0}], "drive": 12.0, "bias": 0.0, "bits": 8.0, "rate": 12000.0, "focus_low": 20.0, "focus_high": 20000.0, "lift": 0.0, "lift_at": 800.0, "lift_q": 0.7, "mix": 100.0, "trim": 0.0, "level_match": true}]]]','[["layers.body.stages", [{"id": "pluck", "name": "Pluck", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "filter", "type": "low-pass", "slope": "24", "cutoff": 230.0, "resonance": 5.0, "morph": 0.0, "drive": 0.0, "key_follow": 60.0, "mix": 100.0, "trim": 0.0}]]]',0,'2026-11-28T07:38:33.512+00:00');
INSERT INTO "steps" VALUES(5,2,'Duplicate Body','[["layers", [{"id": "sub", "name": "Sub", "hatch": "level", "path": "clean", "mute": false, "level": -6.5, "pan": 0.0, "width": 100.0, "polarity": "normal", "delay": 0.0, "in_step": "", "play": {"mode": "mono", "voices": 4, "glide": 0.0, "glide_curve": 0.0, "glide_when": "overlap", "bend_range": 2.0, "transpose": 0, "fine": 0.0, "pitch": 0.0, "interval": 7.0, "interval_level": -72.0, "velocity": 6.0}, "unison": {"copies": 1, "detune": 12.0, "width": 60.0, "spread": 100.0}, "sources": [{"kind": "oscillator", "id": "sine", "name": "Sine", "shape": "sine", "pulse_width": 50.0, "mix_a": "triangle", "mix_b": "saw", "mix": 50.0, "wave": "stock:first-three", "position": 0.0, "octave": 0, "semitones": 0.0, "cents": 0.0, "ratio": 1.0, "offset": 0.0, "drift": 0.0, "level": 0.0, "polarity": "normal", "start": "restart", "phase": 275.0, "chance": 30.0, "unison": true, "to": "stages", "sync": "off", "sync_to": "", "sync_interval": 12.0, "twin": "off", "twin_shift": 180.0, "skew": 0.0, "partial_low": 1.0, "partial_high": 256.0, "partial_edge": 1.0, "stretch": 0.0, "scatter": 0.0, "feedback": 0.0, "modulators": []}], "stages": [], "branches": {"way": "series", "mix": 50.0}, "envelope": {"clock": "ms", "attack": 2.0, "hold": 0.0, "decay": 380.0, "release": 70.0, "attack_beats": 0.03125, "hold_beats": 0.0, "decay_beats": 1.0, "release_beats": 0.25, "attack_curve": 0.0, "decay_curve": 50.0, "release_curve": 50.0, "accent_decay": 40.0, "sustain": -8.0, "start": -72.0, "accent": 0.0}, "range": {"low": 20.0, "high": 90.0, "where": "after"}, "chain": [], "sends": [{"id": "echo", "level": -72.0}, {"id": "space", "level": -72.0}]}, {"id": "body", "name": "Body", "hatch": "rising", "path": "worked", "mute": false, "level": -1.0, "pan": 0.0, "width": 100.0, "polarity": "normal", "delay": 0.0, "in_step": "", "play": {"mode": "mono", "voices": 4, "glide": 0.0, "glide_curve": 0.0, "glide_when": "overlap", "bend_range": 2.0, "transpose": 0, "fine": 0.0, "pitch": 0.0, "interval": 7.0, "interval_level": -72.0, "velocity": 6.0}, "unison": {"copies": 1, "detune": 12.0, "width": 60.0, "spread": 100.0}, "sources": [{"kind": "oscillator", "id": "square", "name": "Square", "shape": "pulse", "pulse_width": 46.0, "mix_a": "triangle", "mix_b": "saw", "mix": 50.0, "wave": "stock:first-three", "position": 0.0, "octave": 0, "semitones": 0.0, "cents": 0.0, "ratio": 1.0, "offset": 0.0, "drift": 0.0, "level": -5.0, "polarity": "normal", "start": "restart", "phase": 0.0, "chance": 30.0, "unison": true, "to": "stages", "sync": "off", "sync_to": "", "sync_interval": 12.0, "twin": "off", "twin_shift": 180.0, "skew": 0.0, "partial_low": 1.0, "partial_high": 256.0, "partial_edge": 1.0, "stretch": 0.0, "scatter": 0.0, "feedback": 0.0, "modulators": []}], "stages": [{"id": "pluck", "name": "Pluck", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "filter", "type": "low-pass", "slope": "24", "cutoff": 230.0, "resonance": 5.0, "morph": 0.0, "drive": 0.0, "key_follow": 60.0, "mix": 100.0, "trim": 0.0}, {"id": "distortion", "name": "Distortion", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "distortion", "curve": "soft", "points": [{"at": 0.0, "value": 0.1, "bend": 0.0}, {"at": 0.3, "value": 0.15, "bend": 0.0}, {"at": 0.5, "value": 0.5, "bend": 0.0}, {"at": 0.65, "value": 0.9, "bend": 0.0}, {"at": 1.0, "value": 1.0, "bend": 0.0}], "drive": 12.0, "bias": 0.0, "bits": 8.0, "rate": 12000.0, "focus_low": 20.0, "focus_high": 20000.0, "lift": 0.0, "lift_at": 800.0, "lift_q": 0.7, "mix": 100.0, "trim": 0.0, "level_match": true}], "branches": {"way": "series", "mix": 50.0}, "envelope": {"clock": "ms", "attack": 1.5, "hold": 0.0, "decay": 320.0, "release": 60.0, "attack_beats": 0.03125, "hold_beats": 0.0, "decay_beats": 1.0, "release_beats": 0.25, "attack_curve": 0.0, "decay_curve": 50.0, "release_curve": 50.0, "accent_decay": 35.0, "sustain": -14.0, "start": -72.0, "accent": 4.0}, "range": {"low": 90.0, "high": 20000.0, "where": "after"}, "chain": [], "sends": [{"id": "echo", "level": -72.0}, {"id": "space", "level": -72.0}]}, {"id": "body-2", "name": "Body copy", "hatch": "upright", "path": "worked", "mute": false, "level": -1.0, "pan": 0.0, "width": 100.0, "polarity": "normal", "delay": 0.0, "in_step": "", "play": {"mode": "mono", "voices": 4, "glide": 0.0, "glide_curve": 0.0, "glide_when": "overlap", "bend_range": 2.0, "transpose": 0, "fine": 0.0, "pitch": 0.0, "interval": 7.0, "interval_level": -72.0, "velocity": 6.0}, "unison": {"copies": 1, "detune": 12.0, "width": 60.0, "spread": 100.0}, "sources": [{"kind": "oscillator", "id": "square", "name": "Square", "shape": "pulse", "pulse_width": 46.0, "mix_a": "triangle", "mix_b": "saw", "mix": 50.0, "wave": "stock:first-three", "position": 0.0, "octave": 0, "semitones": 0.0, "cents": 0.0, "ratio": 1.0, "offset": 0.0, "drift": 0.0, "level": -5.0, "polarity": "normal", "start": "restart", "phase": 0.0, "chance": 30.0, "unison": true, "to": "stages", "sync": "off", "sync_to": "", "sync_interval": 12.0, "twin": "off", "twin_shift": 180.0, "skew": 0.0, "partial_low": 1.0, "partial_high": 256.0, "partial_edge": 1.0, "stretch": 0.0, "scatter": 0.0, "feedback": 0.0, "modulators": []}], "stages": [{"id": "pluck", "name": "Pluck", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "filter", "type": "low-pass", "slope": "24", "cutoff": 230.0, "resonance": 5.0, "morph": 0.0, "drive": 0.0, "key_follow": 60.0, "mix": 100.0, "trim": 0.0}, {"id": "distortion", "name": "Distortion", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "distortion", "curve": "soft", "points": [{"at": 0.0, "value": 0.1, "bend": 0.0}, {"at": 0.3, "value": 0.15, "bend": 0.0}, {"at": 0.5, "value": 0.5, "bend": 0.0}, {"at": 0.65, "value": 0.9, "bend": 0.0}, {"at": 1.0, "value": 1.0, "bend": 0.0}], "drive": 12.0, "bias": 0.0, "bits": 8.0, "rate": 12000.0, "focus_low": 20.0, "focus_high": 20000.0, "lift": 0.0, "lift_at": 800.0, "lift_q": 0.7, "mix": 100.0, "trim": 0.0, "level_match": true}], "branches": {"way": "series", "mix": 50.0}, "envelope": {"clock": "ms", "attack": 1.5, "hold": 0.0, "decay": 320.0, "release": 60.0, "attack_beats": 0.03125, "hold_beats": 0.0, "decay_beats": 1.0, "release_beats": 0.25, "attack_curve": 0.0, "decay_curve": 50.0, "release_curve": 50.0, "accent_decay": 35.0, "sustain": -14.0, "start": -72.0, "accent": 4.0}, "range": {"low": 90.0, "high": 20000.0, "where": "after"}, "chain": [], "sends": [{"id": "echo", "level": -72.0}, {"id": "space", "level": -72.0}]}, {"id": "edge", "name": "Edge", "hatch": "cross", "path": "worked", "mute": false, "level": -1.5, "pan": 0.0, "width": 100.0, "polarity": "normal", "delay": 0.0, "in_step": "", "play": {"mode": "mono", "voices": 4, "glide": 0.0, "glide_curve": 0.0, "glide_when": "overlap", "bend_range": 2.0, "transpose": 0, "fine": 0.0, "pitch": 0.0, "interval": 7.0, "interval_level": -72.0, "velocity": 6.0}, "unison": {"copies": 3, "detune": 7.0, "width": 70.0, "spread": 100.0}, "sources": [{"kind": "oscillator", "id": "saw", "name": "Edge saw", "shape": "saw", "pulse_width": 50.0, "mix_a": "triangle", "mix_b": "saw", "mix": 50.0, "wave": "stock:first-three", "position": 0.0, "octave": 1, "semitones": 0.0, "cents": 0.0, "ratio": 1.0, "offset": 0.0, "drift": 0.0, "level": -6.5, "polarity": "normal", "start": "restart", "phase": 320.0, "chance": 30.0, "unison": true, "to": "stages", "sync": "off", "sync_to": "", "sync_interval": 12.0, "twin": "off", "twin_shift": 180.0, "skew": 0.0, "partial_low": 1.0, "partial_high": 256.0, "partial_edge": 1.0, "stretch": 0.0, "scatter": 0.0, "feedback": 0.0, "modulators": [{"id": "bell", "source": "bell", "way": "phase", "depth": 70.0, "share": 100.0}]}, {"kind": "oscillator", "id": "bell", "name": "Bell sine", "shape": "sine", "pulse_width": 50.0, "mix_a": "triangle", "mix_b": "saw", "mix": 50.0, "wave": "stock:first-three", "position": 0.0, "octave": 2, "semitones": 0.0, "cents": 0.0, "ratio": 1.0, "offset": 0.0, "drift": 0.0, "level": 0.0, "polarity": "normal", "start": "restart", "phase": 0.0, "chance": 30.0, "unison": true, "to": "nowhere", "sync": "off", "sync_to": "", "sync_interval": 12.0, "twin": "off", "twin_shift": 180.0, "skew": 0.0, "partial_low": 1.0, "partial_high": 256.0, "partial_edge": 1.0, "stretch": 0.0, "scatter": 0.0, "feedback": 0.0, "modulators": []}], "stages": [{"id": "thin", "name": "Thin", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "filter", "type": "high-pass", "slope": "24", "cutoff": 420.0, "resonance": 0.0, "morph": 0.0, "drive": 0.0, "key_follow": 0.0, "mix": 100.0, "trim": 0.0}, {"id": "lid", "name": "Lid", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "filter", "type": "low-pass", "slope": "12", "cutoff": 2200.0, "resonance": 0.0, "morph": 0.0, "drive": 0.0, "key_follow": 30.0, "mix": 100.0, "trim": 0.0}], "branches": {"way": "series", "mix": 50.0}, "envelope": {"clock": "ms", "attack": 1.0, "hold": 0.0, "decay": 210.0, "release": 60.0, "attack_beats": 0.03125, "hold_beats": 0.0, "decay_beats": 1.0, "release_beats": 0.25, "attack_curve": 0.0, "decay_curve": 50.0, "release_curve": 50.0, "accent_decay": 40.0, "sustain": -20.0, "start": -72.0, "accent": 0.0}, "range": {"low": 360.0, "high": 20000.0, "where": "after"}, "chain": [], "sends": [{"id": "echo", "level": -72.0}, {"id": "space", "level": -72.0}]}, {"id": "click", "name": "Click", "hatch": "dots", "path": "clean", "mute": false, "level": -8.0, "pan": 0.0, "width": 100.0, "polarity": "normal", "delay": 0.0, "in_step": "", "play": {"mode": "mono", "voices": 4, "glide": 0.0, "glide_curve": 0.0, "glide_when": "overlap", "bend_range": 2.0, "transpose": 0, "fine": 0.0, "pitch": 0.0, "interval": 7.0, "interval_level": -72.0, "velocity": 6.0}, "unison": {"copies": 1, "detune": 12.0, "width": 60.0, "spread": 100.0}, "sources": [{"kind": "noise", "id": "strike", "name": "Strike", "colour": "white", "level": 0.0, "width": 0.0, "polarity": "normal", "to": "stages", "modulators": []}], "stages": [{"id": "shape", "name": "Shape", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "filter", "type": "band-pass", "slope": "12", "cutoff": 2600.0, "resonance": 0.0, "morph": 0.0, "drive": 0.0, "key_follow": 0.0, "mix": 100.0, "trim": 0.0}], "branches": {"way": "series", "mix": 50.0}, "envelope": {"clock": "ms", "attack": 0.5, "hold": 0.0, "decay": 9.0, "release": 8.0, "attack_beats": 0.03125, "hold_beats": 0.0, "decay_beats": 1.0, "release_beats": 0.25, "attack_curve": 0.0, "decay_curve": 60.0, "release_curve": 50.0, "accent_decay": 40.0, "sustain": -72.0, "start": -72.0, "accent": 0.0}, "range": {"low": 20.0, "high": 20000.0, "where": "after"}, "chain": [], "sends": [{"id": "echo", "level": -72.0}, {"id": "space", "level": -72.0}]}]], ["movements", [{"id": "snap-pluck-cutoff", "mover": "snap", "target": "layers.body.stages.pluck.cutoff", "amount": 2.9, "both_ways": false, "curve": 0.0, "scaled_by": "", "lost": ""}, {"id": "snap-lid-cutoff", "mover": "snap", "target": "layers.edge.stages.lid.cutoff", "amount": 1.2, "both_ways": false, "curve": 0.0, "scaled_by": "", "lost": ""}, {"id": "tide-square-pulse-width", "mover": "tide", "target": "layers.body.sources.square.pulse_width", "amount": 9.0, "both_ways": true, "curve": 0.0, "scaled_by": "", "lost": ""}, {"id": "snap-pluck-cutoff-2", "mover": "snap", "target": "layers.body-2.stages.pluck.cutoff", "amount": 2.9, "both_ways": false, "curve": 0.0, "scaled_by": "", "lost": ""}, {"id": "tide-square-pulse-width-2", "mover": "tide", "target": "layers.body-2.sources.square.pulse_width", "amount": 9.0, "both_ways": true, "curve": 0.0, "scaled_by": "", "lost": ""}]]]','[["movements", [{"id": "snap-pluck-cutoff", "mover": "snap", "target": "layers.body.stages.pluck.cutoff", "amount": 2.9, "both_ways": false, "curve": 0.0, "scaled_by": "", "lost": ""}, {"id": "snap-lid-cutoff", "mover": "snap", "target": "layers.edge.stages.lid.cutoff", "amount": 1.2, "both_ways": false, "curve": 0.0, "scaled_by": "", "lost": ""}, {"id": "tide-square-pulse-width", "mover": "tide", "target": "layers.body.sources.square.pulse_width", "amount": 9.0, "both_ways": true, "curve": 0.0, "scaled_by": "", "lost": ""}]], ["layers", [{"id": "sub", "name": "Sub", "hatch": "level", "path": "clean", "mute": false, "level": -6.5, "pan": 0.0, "width": 100.0, "polarity": "normal", "delay": 0.0, "in_step": "", "play": {"mode": "mono", "voices": 4, "glide": 0.0, "glide_curve": 0.0, "glide_when": "overlap", "bend_range": 2.0, "transpose": 0, "fine": 0.0, "pitch": 0.0, "interval": 7.0, "interval_level": -72.0, "velocity": 6.0}, "unison": {"copies": 1, "detune": 12.0, "width": 60.0, "spread": 100.0}, "sources": [{"kind": "oscillator", "id": "sine", "name": "Sine", "shape": "sine", "pulse_width": 50.0, "mix_a": "triangle", "mix_b": "saw", "mix": 50.0, "wave": "stock:first-three", "position": 0.0, "octave": 0, "semitones": 0.0, "cents": 0.0, "ratio": 1.0, "offset": 0.0, "drift": 0.0, "level": 0.0, "polarity": "normal", "start": "restart", "phase": 275.0, "chance": 30.0, "unison": true, "to": "stages", "sync": "off", "sync_to": "", "sync_interval": 12.0, "twin": "off", "twin_shift": 180.0, "skew": 0.0, "partial_low": 1.0, "partial_high": 256.0, "partial_edge": 1.0, "stretch": 0.0, "scatter": 0.0, "feedback": 0.0, "modulators": []}], "stages": [], "branches": {"way": "series", "mix": 50.0}, "envelope": {"clock": "ms", "attack": 2.0, "hold": 0.0, "decay": 380.0, "release": 70.0, "attack_beats": 0.03125, "hold_beats": 0.0, "decay_beats": 1.0, "release_beats": 0.25, "attack_curve": 0.0, "decay_curve": 50.0, "release_curve": 50.0, "accent_decay": 40.0, "sustain": -8.0, "start": -72.0, "accent": 0.0}, "range": {"low": 20.0, "high": 90.0, "where": "after"}, "chain": [], "sends": [{"id": "echo", "level": -72.0}, {"id": "space", "level": -72.0}]}, {"id": "body", "name": "Body", "hatch": "rising", "path": "worked", "mute": false, "level": -1.0, "pan": 0.0, "width": 100.0, "polarity": "normal", "delay": 0.0, "in_step": "", "play": {"mode": "mono", "voices": 4, "glide": 0.0, "glide_curve": 0.0, "glide_when": "overlap", "bend_range": 2.0, "transpose": 0, "fine": 0.0, "pitch": 0.0, "interval": 7.0, "interval_level": -72.0, "velocity": 6.0}, "unison": {"copies": 1, "detune": 12.0, "width": 60.0, "spread": 100.0}, "sources": [{"kind": "oscillator", "id": "square", "name": "Square", "shape": "pulse", "pulse_width": 46.0, "mix_a": "triangle", "mix_b": "saw", "mix": 50.0, "wave": "stock:first-three", "position": 0.0, "octave": 0, "semitones": 0.0, "cents": 0.0, "ratio": 1.0, "offset": 0.0, "drift": 0.0, "level": -5.0, "polarity": "normal", "start": "restart", "phase": 0.0, "chance": 30.0, "unison": true, "to": "stages", "sync": "off", "sync_to": "", "sync_interval": 12.0, "twin": "off", "twin_shift": 180.0, "skew": 0.0, "partial_low": 1.0, "partial_high": 256.0, "partial_edge": 1.0, "stretch": 0.0, "scatter": 0.0, "feedback": 0.0, "modulators": []}], "stages": [{"id": "pluck", "name": "Pluck", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "filter", "type": "low-pass", "slope": "24", "cutoff": 230.0, "resonance": 5.0, "morph": 0.0, "drive": 0.0, "key_follow": 60.0, "mix": 100.0, "trim": 0.0}, {"id": "distortion", "name": "Distortion", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "distortion", "curve": "soft", "points": [{"at": 0.0, "value": 0.1, "bend": 0.0}, {"at": 0.3, "value": 0.15, "bend": 0.0}, {"at": 0.5, "value": 0.5, "bend": 0.0}, {"at": 0.65, "value": 0.9, "bend": 0.0}, {"at": 1.0, "value": 1.0, "bend": 0.0}], "drive": 12.0, "bias": 0.0, "bits": 8.0, "rate": 12000.0, "focus_low": 20.0, "focus_high": 20000.0, "lift": 0.0, "lift_at": 800.0, "lift_q": 0.7, "mix": 100.0, "trim": 0.0, "level_match": true}], "branches": {"way": "series", "mix": 50.0}, "envelope": {"clock": "ms", "attack": 1.5, "hold": 0.0, "decay": 320.0, "release": 60.0, "attack_beats": 0.03125, "hold_beats": 0.0, "decay_beats": 1.0, "release_beats": 0.25, "attack_curve": 0.0, "decay_curve": 50.0, "release_curve": 50.0, "accent_decay": 35.0, "sustain": -14.0, "start": -72.0, "accent": 4.0}, "range": {"low": 90.0, "high": 20000.0, "where": "after"}, "chain": [], "sends": [{"id": "echo", "level": -72.0}, {"id": "space", "level": -72.0}]}, {"id": "edge", "name": "Edge", "hatch": "cross", "path": "worked", "mute": false, "level": -1.5, "pan": 0.0, "width": 100.0, "polarity": "normal", "delay": 0.0, "in_step": "", "play": {"mode": "mono", "voices": 4, "glide": 0.0, "glide_curve": 0.0, "glide_when": "overlap", "bend_range": 2.0, "transpose": 0, "fine": 0.0, "pitch": 0.0, "interval": 7.0, "interval_level": -72.0, "velocity": 6.0}, "unison": {"copies": 3, "detune": 7.0, "width": 70.0, "spread": 100.0}, "sources": [{"kind": "oscillator", "id": "saw", "name": "Edge saw", "shape": "saw", "pulse_width": 50.0, "mix_a": "triangle", "mix_b": "saw", "mix": 50.0, "wave": "stock:first-three", "position": 0.0, "octave": 1, "semitones": 0.0, "cents": 0.0, "ratio": 1.0, "offset": 0.0, "drift": 0.0, "level": -6.5, "polarity": "normal", "start": "restart", "phase": 320.0, "chance": 30.0, "unison": true, "to": "stages", "sync": "off", "sync_to": "", "sync_interval": 12.0, "twin": "off", "twin_shift": 180.0, "skew": 0.0, "partial_low": 1.0, "partial_high": 256.0, "partial_edge": 1.0, "stretch": 0.0, "scatter": 0.0, "feedback": 0.0, "modulators": [{"id": "bell", "source": "bell", "way": "phase", "depth": 70.0, "share": 100.0}]}, {"kind": "oscillator", "id": "bell", "name": "Bell sine", "shape": "sine", "pulse_width": 50.0, "mix_a": "triangle", "mix_b": "saw", "mix": 50.0, "wave": "stock:first-three", "position": 0.0, "octave": 2, "semitones": 0.0, "cents": 0.0, "ratio": 1.0, "offset": 0.0, "drift": 0.0, "level": 0.0, "polarity": "normal", "start": "restart", "phase": 0.0, "chance": 30.0, "unison": true, "to": "nowhere", "sync": "off", "sync_to": "", "sync_interval": 12.0, "twin": "off", "twin_shift": 180.0, "skew": 0.0, "partial_low": 1.0, "partial_high": 256.0, "partial_edge": 1.0, "stretch": 0.0, "scatter": 0.0, "feedback": 0.0, "modulators": []}], "stages": [{"id": "thin", "name": "Thin", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "filter", "type": "high-pass", "slope": "24", "cutoff": 420.0, "resonance": 0.0, "morph": 0.0, "drive": 0.0, "key_follow": 0.0, "mix": 100.0, "trim": 0.0}, {"id": "lid", "name": "Lid", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "filter", "type": "low-pass", "slope": "12", "cutoff": 2200.0, "resonance": 0.0, "morph": 0.0, "drive": 0.0, "key_follow": 30.0, "mix": 100.0, "trim": 0.0}], "branches": {"way": "series", "mix": 50.0}, "envelope": {"clock": "ms", "attack": 1.0, "hold": 0.0, "decay": 210.0, "release": 60.0, "attack_beats": 0.03125, "hold_beats": 0.0, "decay_beats": 1.0, "release_beats": 0.25, "attack_curve": 0.0, "decay_curve": 50.0, "release_curve": 50.0, "accent_decay": 40.0, "sustain": -20.0, "start": -72.0, "accent": 0.0}, "range": {"low": 360.0, "high": 20000.0, "where": "after"}, "chain": [], "sends": [{"id": "echo", "level": -72.0}, {"id": "space", "level": -72.0}]}, {"id": "click", "name": "Click", "hatch": "dots", "path": "clean", "mute": false, "level": -8.0, "pan": 0.0, "width": 100.0, "polarity": "normal", "delay": 0.0, "in_step": "", "play": {"mode": "mono", "voices": 4, "glide": 0.0, "glide_curve": 0.0, "glide_when": "overlap", "bend_range": 2.0, "transpose": 0, "fine": 0.0, "pitch": 0.0, "interval": 7.0, "interval_level": -72.0, "velocity": 6.0}, "unison": {"copies": 1, "detune": 12.0, "width": 60.0, "spread": 100.0}, "sources": [{"kind": "noise", "id": "strike", "name": "Strike", "colour": "white", "level": 0.0, "width": 0.0, "polarity": "normal", "to": "stages", "modulators": []}], "stages": [{"id": "shape", "name": "Shape", "on": true, "matched": false, "match": 0.0, "branch": "A", "kind": "filter", "type": "band-pass", "slope": "12", "cutoff": 2600.0, "resonance": 0.0, "morph": 0.0, "drive": 0.0, "key_follow": 0.0, "mix": 100.0, "trim": 0.0}], "branches": {"way": "series", "mix": 50.0}, "envelope": {"clock": "ms", "attack": 0.5, "hold": 0.0, "decay": 9.0, "release": 8.0, "attack_beats": 0.03125, "hold_beats": 0.0, "decay_beats": 1.0, "release_beats": 0.25, "attack_curve": 0.0, "decay_curve": 60.0, "release_curve": 50.0, "accent_decay": 40.0, "sustain": -72.0, "start": -72.0, "accent": 0.0}, "range": {"low": 20.0, "high": 20000.0, "where": "after"}, "chain": [], "sends": [{"id": "echo", "level": -72.0}, {"id": "space", "level": -72.0}]}]]]',1,'2026-11-28T07:38:33.549+00:00');
INSERT INTO "steps" VALUES(6,8,'Rename Salt Press copy to Salt​Press copy','[["name", "Salt\u200bPress copy"]]','[["name", "Salt Press copy"]]',0,'2026-11-28T07:38:33.674+00:00');
INSERT INTO "steps" VALUES(7,8,'Tempo 126.0 BPM → 99.5 BPM','[["tempo", 99.5]]','[["tempo", 126.0]]',0,'2026-11-28T07:38:33.699+00:00');
CREATE TABLE verdicts (
	patch_id INTEGER NOT NULL, 
	step INTEGER NOT NULL, 
	body TEXT NOT NULL, 
	PRIMARY KEY (patch_id, step), 
	FOREIGN KEY(patch_id) REFERENCES patches (id) ON DELETE CASCADE
);
CREATE INDEX steps_by_patch ON steps (patch_id, id);
COMMIT;
