// The player as the page shows it, and all that is listened to and through. None of it is part of the patch.
import { $, on } from "./page.js";
import { say } from "./notice.js";
import { missed } from "./server.js";
import * as stream from "./stream.js";

const WAITS = "stream off";

export const playerStore = {
  playing: false,
  looping: true,
  recording: false,
  mode: "off",
  words: WAITS,
  lead: 0,
  gaps: 0,
  load: 0,
  over: false,
  listening: "stereo",
  solo: [],
  source: "",
  room: "",
  reference: false,
  comparing: "",
  comparison: null,
  taping: false,
  taped: null,
  kept: "",

  // playing, but nothing comes
  get waiting() { return this.playing && this.mode === "off"; },
  get state() { return this.over ? "over 0 dBFS" : this.words; },

  async toggle() {
    if (this.playing) { this.playing = false; stream.tell({ do: "stop" }); return; }
    this.playing = true;
    await stream.start();
    stream.tell({ do: "play" });
  },
  loop() { this.looping = !this.looping; stream.tell({ do: "loop", on: this.looping }); },
  record() {
    const snap = $("phrase-snap")?.value;
    stream.tell({ do: "record", on: !this.recording, ...(snap && { snap }) });
  },
  // what is heard goes to a file, until it is pressed again
  async tape() {
    const begins = !this.taping;
    if (begins) await stream.start();
    stream.tell({ do: "tape", on: begins });
  },
  get tapeWords() { return this.taping ? `■ ${minutes(this.taped ?? 0)}` : "● To file"; },
  listen(mode) { this.listening = mode; stream.tell({ do: "listen", mode }); },
  mono() { this.listen(this.listening === "mono" ? "stereo" : "mono"); },

  soloLayer(layer) { this.solo = this.solo.includes(layer) ? this.solo.filter((x) => x !== layer) : [...this.solo, layer]; this.tellSolo(); },
  soloSource(word) { this.source = this.source === word ? "" : word; this.tellSolo(); },
  tellSolo() { stream.tell({ do: "solo", layers: [...this.solo], source: this.source || null }); },

  enter(room) { this.room = room; stream.tell({ do: "room", room }); },
  flip(room) { this.enter(this.room === room ? "" : room); },
  playReference() { this.reference = !this.reference; stream.tell({ do: "reference", on: this.reference }); },

  // one thing at a time is compared; pressing it again ends that
  compare(what) { this.toggleComparing(what, { do: "compare", what }); },
  tryOut(place, which) { this.toggleComparing(`${place} ${which}`, { do: "try", place, which }); },
  toggleComparing(word, message) {
    if (this.comparing === word) { this.endComparing(); return; }
    Object.assign(this, { comparing: word, comparison: message });
    this.tellComparing();
  },
  tellComparing() { if (this.comparing) stream.tell({ ...this.comparison }); },
  endComparing() {
    this.comparing = "";
    stream.tell({ do: "compare", what: "" });
    stream.tell({ do: "try", place: "", which: "" });
  },
  hold(down) { if (down !== (this.comparing === "all")) this.compare("all"); },

  // at its foot the fader is closed
  volume(db, foot) { stream.setLevel(Number(db) <= Number(foot) ? 0 : 10 ** (db / 20)); },
};

const minutes = (seconds) => `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, "0")}`;

function tapeTold({ on: runs, seconds = 0, peak_db: peak }) {
  const store = window.Alpine.store("player");
  const ran = store.taping;
  Object.assign(store, { taping: runs, taped: 0, ...(seconds && { kept: minutes(seconds) }) });
  if (runs) { say("Recording what you hear"); return; }
  const loud = peak === null ? "silent" : `peak ${peak.toFixed(1).replace("-", "−")} dBFS`;
  if (ran && seconds) say(`${minutes(seconds)} of what you heard is kept, ${loud}: take it as WAV or FLAC`);
}

export function startPlayer() {
  const player = () => window.Alpine.store("player");
  stream.openStream();
  stream.hear("stopped", () => { player().playing = false; });
  stream.hear("recording", (message) => { player().recording = message.on; });
  stream.hear("problem", (message) => say(message.text, true));
  stream.hear("taping", tapeTold);
  stream.hear("state", ({ mode, words, lead_ms: lead, underruns: gaps, cost_percent: load, taped }) => Object.assign(player(), { mode, words, lead, gaps, load, taped }));
  stream.hear("closed", ({ gone }) => {
    Object.assign(player(), { mode: "off", words: WAITS, recording: false, taping: false });
    if (gone) { player().playing = false; say("This patch was deleted: go to the library, where it can be put back", true); } else missed();
  });
  on("answers", stream.again);
  // an edit made here is heard as it is; a version that came from elsewhere is compared as the one before it
  const end = () => { if (player().comparing) player().endComparing(); };
  on("answered", ({ detail }) => { if (typeof detail.version === "number") end(); });
  stream.hear("edited", end);
  on("edited", () => player().tellComparing());
  // a changed room is entered anew
  on("rejudged", () => { if (player().room) player().enter(player().room); });
}
