// The note editor: where the hand is on the grid and in the lanes. The grid, the limits and the words are the server's.
import { $, announce, arrows, clamp, on, placeIn, take } from "./page.js";
import { post } from "./edits.js";
import { say } from "./notice.js";
import { drag, letGo } from "./drag.js";
import { laneBytes } from "./hands.js";
import * as stream from "./stream.js";

const TOUCH = 90;
const NEAR = 14;
const NARROWEST = 3;
const END = 7;
const picked = new Set();
const cursor = { beat: 0, pitch: 36, shown: false };
const noteOf = (id) => $(`note-${id}`);

function facts() {
  const { beats, top, rows, snap, grid, lane } = $("phrase-panel").dataset;
  return { beats: Number(beats), top: Number(top), rows: Number(rows), snap, step: Number(grid), lane };
}

const again = () => { $("phrase-shown").value = ""; announce("redrawn"); };

// What is refused is drawn again as it is kept.
const ask = async (what) => { if (!(await post("notes", { snap: facts().snap, ...what }))) again(); };

function show() {
  for (const node of document.querySelectorAll("[data-note]")) {
    node.classList.toggle("picked", picked.has(node.dataset.note));
    node.setAttribute("aria-pressed", String(picked.has(node.dataset.note)));
  }
  for (const id of [...picked]) if (!noteOf(id)) picked.delete(id);
  const first = [...picked][0];
  const exact = first ? JSON.parse(noteOf(first).dataset.exact) : {};
  for (const input of document.querySelectorAll("[data-field]")) {
    input.disabled = !first;
    if (input.dataset.dirty !== "yes") input.value = exact[input.dataset.field] ?? "";
  }
  const { beats, top, rows, step } = facts();
  const mark = $("note-cursor");
  mark.setAttribute("width", cursor.shown ? `${(100 * step) / beats}%` : 0);
  mark.setAttribute("x", `${(100 * cursor.beat) / beats}%`);
  mark.setAttribute("y", `${(100 * (top - cursor.pitch)) / rows}%`);
}

function pick(id, more) {
  if (!more && !picked.has(id)) picked.clear();
  if (more && picked.has(id)) picked.delete(id); else picked.add(id);
  show();
}

// A beat and a pitch under the pointer.
function placed(event) {
  const { beats, top, rows } = facts();
  const { x, y } = placeIn($("notes"), event);
  return { beat: x * beats, pitch: top - Math.floor(Math.min(y, 0.9999) * rows) };
}

function ghost(start, pitch, length) {
  const { beats, top, rows } = facts();
  $("note-ghost").setAttribute("x", `${(100 * start) / beats}%`);
  $("note-ghost").setAttribute("width", `${(100 * length) / beats}%`);
  $("note-ghost").setAttribute("y", `${(100 * (top - pitch)) / rows}%`);
}

// The note under a hand sounds as long as it is held, at the pitch where it is.
function touching(pitch) {
  let now = pitch;
  stream.note(now, TOUCH);
  return (next) => {
    if (next === now) return;
    stream.note(now, 0);
    if (next !== null) stream.note(next, TOUCH);
    now = next;
  };
}

function drawNote(event, grid) {
  const { snap, step } = facts();
  const from = placed(event);
  const start = snap === "off" ? from.beat : Math.floor(from.beat / step + 1e-6) * step;
  const sound = touching(from.pitch);
  let length = null;
  picked.clear();
  show();
  ghost(start, from.pitch, step);
  const end = () => { sound(null); $("note-ghost").setAttribute("width", 0); };
  drag(event, grid, {
    move(now) {
      const wide = placed(now).beat - start;
      if (wide > step) length = wide;
      else if (length !== null) length = step;
      ghost(start, from.pitch, Math.max(step, wide));
    },
    drop() { end(); ask({ do: "draw", pitch: from.pitch, start, length }); },
    cancel() { end(); again(); },
  });
}

function dragNotes(event, grid, id, stretching) {
  const { beats, rows } = facts();
  const { width, height } = grid.getBoundingClientRect();
  const from = placed(event);
  const pitch = Number(noteOf(id).dataset.pitch);
  const sound = touching(pitch);
  pick(id, event.shiftKey);
  noteOf(id).focus({ preventScroll: true });
  const held = [...picked].map((one) => ({ node: noteOf(one), wide: noteOf(one).getBoundingClientRect().width }));
  let by = 0;
  let up = 0;
  drag(event, grid, {
    move(now) {
      const here = placed(now);
      by = here.beat - from.beat;
      up = stretching ? 0 : here.pitch - from.pitch;
      const dx = (by / beats) * width;
      const dy = (-up * height) / rows;
      for (const { node, wide } of held) {
        if (stretching) node.setAttribute("width", Math.max(NARROWEST, wide + dx));
        else node.setAttribute("transform", `translate(${dx} ${dy})`);
        node.parentNode.querySelector(".note-end").setAttribute("transform", `translate(${dx - END} ${dy})`);
      }
      sound(pitch + up);
    },
    drop() {
      sound(null);
      const ids = [...picked];
      if (Math.abs(by) <= 0.02 && !up) return;
      ask(stretching ? { do: "stretch", ids, beats: by } : { do: "move", ids, beats: by, semitones: up });
    },
    cancel() { sound(null); again(); },
  });
}

export const noteGrid = () => ({
  "x-init"() { show(); },
  "@pointerdown"(event) {
    if (event.button !== 0) return;
    const { end, note } = event.target.dataset;
    if (note ?? end) dragNotes(event, this.$el, note ?? end, Boolean(end)); else drawNote(event, this.$el);
  },
  "@dblclick"({ target }) { if (target.dataset.note) ask({ do: "delete", ids: [target.dataset.note] }); },
  "@focus"() {
    const { top, rows } = facts();
    cursor.pitch = clamp(cursor.pitch, top - rows + 1, top);
    cursor.shown = true;
    show();
  },
  "@keydown"(event) {
    const { note } = event.target.dataset;
    const done = note ? noteKey(event, note) : gridKey(event);
    if (!done) return;
    take(event);
  },
});

function noteKey(event, id) {
  const { step } = facts();
  const { across, up } = arrows(event);
  if (event.key === "Tab" || event.key === "Shift") return false;
  if (event.key === "Enter" || event.key === " ") { pick(id, event.shiftKey); return true; }
  if (!picked.has(id)) pick(id, false);
  const ids = [...picked];
  if (event.key === "Delete" || event.key === "Backspace") ask({ do: "delete", ids });
  else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "d") ask({ do: "double", ids });
  else if (across && event.shiftKey) ask({ do: "stretch", ids, beats: across * step });
  else if (up && event.shiftKey) ask({ do: "velocity", ids, by: 8 * up });
  else if (across) ask({ do: "move", ids, beats: across * step });
  else if (up) ask({ do: "move", ids, semitones: up * (event.altKey ? 12 : 1) });
  else if (event.key === "Escape") { picked.clear(); show(); $("notes").focus(); }
  else return false;
  return true;
}

function gridKey(event) {
  const { beats, top, rows, step } = facts();
  const { across, up } = arrows(event);
  if (across || up) {
    cursor.beat = clamp(cursor.beat + (across ?? 0) * step, 0, beats - step);
    cursor.pitch = clamp(cursor.pitch + (up ?? 0), top - rows + 1, top);
    show();
    say(`cursor at beat ${(cursor.beat + 1).toFixed(2)}, pitch ${cursor.pitch}`);
  } else if (event.key === "Enter") {
    ask({ do: "draw", pitch: cursor.pitch, start: cursor.beat });
    cursor.beat = Math.min(cursor.beat + step, beats - step);
  } else return false;
  return true;
}

// A field of the chosen notes, and the value of a lane's point: kept with Enter, or when it is left.
const typed = (keep) => () => ({
  "@focus"() { this.$el.select(); },
  "@input"() { this.$el.dataset.dirty = "yes"; },
  async "@change"() {
    this.$el.dataset.dirty = "";
    await keep(this.$el);
    letGo();
  },
  "@keydown.escape"(event) {
    event.stopPropagation();
    this.$el.dataset.dirty = "";
    show();
  },
});
export const noteField = typed(({ dataset, value }) => ask({ do: "exact", ids: [...picked], what: dataset.field, text: value }));
export const pointField = typed(({ value }) => ask({ do: "point", lane: facts().lane, at: $("point-at").value, text: value }));

// The bar of a velocity under the hand, or the nearest one.
function barAt(event) {
  if (event.target.dataset.velocity) return event.target;
  const far = (bar) => Math.abs(bar.getBoundingClientRect().left + 2 - event.clientX);
  const nearest = [...document.querySelectorAll("[data-velocity]")].sort((a, b) => far(a) - far(b))[0];
  return nearest && far(nearest) < NEAR ? nearest : null;
}

function dragVelocity(event, lane) {
  const bar = barAt(event);
  if (!bar) return;
  let to = 0;
  const move = (now) => {
    const { y } = placeIn(lane, now);
    to = Math.round(clamp((1 - y) * 127, 1, 127));
    bar.setAttribute("y", `${100 * y}%`);
    bar.setAttribute("height", `${100 - 100 * y}%`);
    say(`velocity ${to}`);
  };
  const id = bar.dataset.velocity;
  drag(event, lane, { move, drop: () => ask({ do: "velocity", ids: picked.has(id) ? [...picked] : [id], to }), cancel: again });
  move(event);
}

function drawLane(event, node) {
  const { beats, lane } = facts();
  const points = [];
  const bend = lane === "bend";
  const move = (now) => {
    const { x, y } = placeIn(node, now);
    const value = bend ? 1 - 2 * y : 1 - y;
    points.push([x * beats, value]);
    $("lane-ghost").setAttribute("d", `M${points.map(([b, v]) => `${(1000 * b) / beats},${bend ? 50 - 50 * v : 100 - 100 * v}`).join(" L")}`);
    stream.tell({ do: "midi", bytes: laneBytes(lane, value) });
  };
  const end = () => stream.tell({ do: "midi", bytes: laneBytes(lane, 0) });
  drag(event, node, { move, drop() { end(); ask({ do: "lane", lane, points }); }, cancel() { end(); again(); } });
  move(event);
}

export const lane = () => ({
  "@pointerdown"(event) {
    if (event.button !== 0) return;
    if (facts().lane === "velocity") dragVelocity(event, this.$el); else drawLane(event, this.$el);
  },
});

// The buttons and lists above the grid. What needs notes says so when none is chosen.
export const noteTools = {
  show(field, word) { $(`phrase-${field}`).value = word; again(); },
  transpose(semitones) { ask({ do: "transpose", semitones }); },
  inTime(times) { ask({ do: "in-time", times }); },
  shape(what) { ask({ do: "shape", lane: facts().lane, what }); },
  clear() { ask({ do: "clear-lane", lane: facts().lane }); },
  idiom(name) { if (name) ask({ do: "idiom", slug: name }); },
  picked(deed) {
    if (picked.size) ask({ do: deed, ids: [...picked] });
    else say("Choose notes first: click one, Shift and click for more", true);
  },
};

export const startNotes = () => on("htmx:afterSettle", () => { if ($("notes")) show(); });
