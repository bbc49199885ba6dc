// The note editor: where the hand is. The grid, the limits and the words are the server's.
import { say } from "./keeping.js";
import { draw, post } from "./panels.js";

const slug = document.body.dataset.slug;
const $ = (id) => document.getElementById(id);

export function startPhrase(player) {
  const picked = new Set();
  let hand = null;
  const cursor = { beat: 0, pitch: 36, shown: false };

  const panel = () => $("phrase-panel");
  const facts = () => {
    const d = panel().dataset;
    return { beats: Number(d.beats), top: Number(d.top), rows: Number(d.rows), snap: d.snap, step: Number(d.grid) || 0.25, lane: d.lane };
  };
  const hands = (what) => post("notes", { snap: facts().snap, ...what });
  const note = (id) => $(`note-${id}`);

  player.phrasePanel = () => {
    const open = panel().tagName === "SECTION";
    document.body.classList.toggle("noting", !open);
    document.querySelector("button.phrase-open")?.setAttribute("aria-expanded", String(!open));
    if (open) {
      const empty = document.createElement("div");
      empty.id = "phrase-panel";
      empty.hidden = true;
      panel().replaceWith(empty);
      return;
    }
    draw(`/patch/${slug}/phrase-panel`, "#phrase-panel");
  };
  const again = () => { if ($("phrase-shown")) $("phrase-shown").value = ""; document.body.dispatchEvent(new CustomEvent("redrawn")); };

  function show() {
    for (const node of document.querySelectorAll("[data-note]")) node.classList.toggle("picked", picked.has(node.dataset.note));
    for (const id of [...picked]) if (!note(id)) picked.delete(id);
    const c = $("note-cursor");
    if (!c) return;
    const f = facts();
    c.setAttribute("width", cursor.shown ? `${(100 * f.step) / f.beats}%` : 0);
    c.setAttribute("x", `${(100 * cursor.beat) / f.beats}%`);
    c.setAttribute("y", `${(100 * (f.top - cursor.pitch)) / f.rows}%`);
  }
  document.body.addEventListener("htmx:afterSettle", () => { if ($("notes")) show(); });
  function pick(id, more) {
    if (!more && !picked.has(id)) picked.clear();
    if (more && picked.has(id)) picked.delete(id); else picked.add(id);
    show();
  }

  // where a pointer is
  function place(event) {
    const box = $("notes").getBoundingClientRect();
    const f = facts();
    const x = (event.clientX - box.left) / box.width;
    const y = (event.clientY - box.top) / box.height;
    return { beat: Math.min(Math.max(x, 0), 1) * f.beats, pitch: f.top - Math.floor(Math.min(Math.max(y, 0), 0.9999) * f.rows) };
  }
  const floor = (beat, step) => Math.floor(beat / step + 1e-6) * step;

  document.addEventListener("pointerdown", (event) => {
    if (event.button !== 0) return;
    const grid = event.target.closest?.("#notes");
    if (grid) {
      event.preventDefault();
      const at = place(event);
      const f = facts();
      const end = event.target.dataset?.end;
      const id = event.target.dataset?.note || end;
      grid.setPointerCapture(event.pointerId);
      if (id) {
        pick(id, event.shiftKey);
        note(id)?.focus({ preventScroll: true });
        hand = { kind: end ? "stretch" : "move", from: at, at, moved: false };
        player.note(Number(note(id).dataset.pitch), true, 90);
        hand.sounding = Number(note(id).dataset.pitch);
      } else {
        picked.clear();
        show();
        const start = f.snap === "off" ? at.beat : floor(at.beat, f.step);
        hand = { kind: "draw", start, pitch: at.pitch, at, moved: false };
        player.note(at.pitch, true, 90);
        hand.sounding = at.pitch;
        ghost(start, at.pitch, f.step);
      }
      return;
    }
    const lane = event.target.closest?.("#lane");
    if (lane) {
      event.preventDefault();
      lane.setPointerCapture(event.pointerId);
      hand = { kind: lane.dataset.lane === "velocity" ? "velocity" : "lane", points: [], id: event.target.dataset?.velocity };
      stroke(event);
    }
  });
  function ghost(start, pitch, length) {
    const f = facts();
    const g = $("note-ghost");
    g.setAttribute("x", `${(100 * start) / f.beats}%`);
    g.setAttribute("width", `${(100 * length) / f.beats}%`);
    g.setAttribute("y", `${(100 * (f.top - pitch)) / f.rows}%`);
  }
  function stroke(event) {
    const box = $("lane").getBoundingClientRect();
    const f = facts();
    const x = Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1);
    const y = Math.min(Math.max((event.clientY - box.top) / box.height, 0), 1);
    if (hand.kind === "velocity") {
      // the bar under the hand, or the nearest one
      let best = hand.id;
      if (!best) {
        let near = 14;
        for (const bar of document.querySelectorAll("[data-velocity]")) { const d = Math.abs(bar.getBoundingClientRect().left + 2 - event.clientX); if (d < near) { near = d; best = bar.dataset.velocity; } }
        hand.id = best;
      }
      hand.to = Math.round(Math.min(Math.max((1 - y) * 127, 1), 127));
      const bar = best && document.querySelector(`[data-velocity="${best}"]`);
      if (bar) { bar.setAttribute("y", `${100 * y}%`); bar.setAttribute("height", `${100 - 100 * y}%`); say(`velocity ${hand.to}`); }
      return;
    }
    const value = f.lane === "bend" ? 1 - 2 * y : 1 - y;
    hand.points.push([x * f.beats, value]);
    $("lane-ghost").setAttribute("d", `M${hand.points.map(([b, v]) => `${(1000 * b) / f.beats},${f.lane === "bend" ? 50 - 50 * v : 100 - 100 * v}`).join(" L")}`);
    player.send({ do: "midi", bytes: bytes(f.lane, value) });
  }
  function bytes(lane, value) {
    if (lane === "bend") { const v = Math.round(value * 8191) + 8192; return [0xe0, v & 127, v >> 7]; }
    return lane === "wheel" ? [0xb0, 1, Math.round(value * 127)] : [0xd0, Math.round(value * 127)];
  }
  document.addEventListener("pointermove", (event) => {
    if (!hand) return;
    if (hand.kind === "lane" || hand.kind === "velocity") { stroke(event); return; }
    const at = place(event);
    const f = facts();
    hand.at = at;
    if (hand.kind === "draw") { ghost(hand.start, hand.pitch, Math.max(f.step, at.beat - hand.start)); hand.moved ||= at.beat - hand.start > f.step; return; }
    const box = $("notes").getBoundingClientRect();
    const by = at.beat - hand.from.beat;
    const up = at.pitch - hand.from.pitch;
    hand.moved ||= Math.abs(by) > 0.02 || up !== 0;
    for (const id of picked) {
      const outer = note(id)?.parentNode;
      if (!outer) continue;
      const dx = (by / f.beats) * box.width;
      const dy = hand.kind === "stretch" ? 0 : (-up * box.height) / f.rows;
      if (hand.kind === "stretch") {
        hand.wide ??= new Map();
        if (!hand.wide.has(id)) hand.wide.set(id, note(id).getBoundingClientRect().width);
        note(id).setAttribute("width", Math.max(3, hand.wide.get(id) + dx));
      } else note(id).setAttribute("transform", `translate(${dx} ${dy})`);
      outer.querySelector(".note-end").setAttribute("transform", `translate(${dx - 7} ${dy})`);
    }
    if (hand.kind === "move" && hand.sounding !== undefined && up !== hand.up) {
      player.note(hand.sounding + (hand.up || 0), false);
      player.note(hand.sounding + up, true, 90);
      hand.up = up;
    }
  });
  async function lifted(event, kept) {
    if (!hand) return;
    const h = hand;
    hand = null;
    if (h.sounding !== undefined) player.note(h.sounding + (h.up || 0), false);
    if (h.kind === "lane") player.send({ do: "midi", bytes: bytes(facts().lane, 0) });
    $("note-ghost")?.setAttribute("width", 0);
    if (!kept) { again(); return; }
    const ids = [...picked];
    if (h.kind === "draw") await hands({ do: "draw", pitch: h.pitch, start: h.start, length: h.moved ? h.at.beat - h.start : null }) || again();
    else if (h.kind === "lane") { if (h.points.length) await hands({ do: "lane", lane: facts().lane, points: h.points }) || again(); }
    else if (h.kind === "velocity") { if (h.id && h.to) await hands({ do: "velocity", ids: picked.has(h.id) ? ids : [h.id], to: h.to }) || again(); }
    else if (h.moved && h.kind === "move") await hands({ do: "move", ids, beats: h.at.beat - h.from.beat, semitones: h.at.pitch - h.from.pitch }) || again();
    else if (h.moved) await hands({ do: "stretch", ids, beats: h.at.beat - h.from.beat }) || again();
  }
  document.addEventListener("pointerup", (event) => lifted(event, true));
  document.addEventListener("pointercancel", (event) => lifted(event, false));
  document.addEventListener("dblclick", (event) => {
    const id = event.target.dataset?.note;
    if (id) hands({ do: "delete", ids: [id] });
  });

  // keys
  document.addEventListener("keydown", (event) => {
    const on = event.target.dataset?.note;
    const grid = event.target.id === "notes";
    if (!on && !grid) return;
    const f = facts();
    const key = event.key;
    let done = true;
    if (on && !picked.has(on)) pick(on, false);
    const ids = [...picked];
    const sideways = { ArrowLeft: -1, ArrowRight: 1 }[key];
    const upwards = { ArrowUp: 1, ArrowDown: -1 }[key];
    if (on && (key === "Delete" || key === "Backspace")) hands({ do: "delete", ids });
    else if (on && (event.ctrlKey || event.metaKey) && key.toLowerCase() === "d") hands({ do: "double", ids });
    else if (on && sideways && event.shiftKey) hands({ do: "stretch", ids, beats: sideways * f.step });
    else if (on && upwards && event.shiftKey) hands({ do: "velocity", ids, by: 8 * upwards });
    else if (on && sideways) hands({ do: "move", ids, beats: sideways * f.step });
    else if (on && upwards) hands({ do: "move", ids, semitones: upwards * (event.altKey ? 12 : 1) });
    else if (on && key === "Escape") { picked.clear(); show(); $("notes").focus(); }
    else if (grid && (sideways || upwards)) {
      cursor.shown = true;
      cursor.beat = Math.min(Math.max(cursor.beat + (sideways || 0) * f.step, 0), f.beats - f.step);
      cursor.pitch = Math.min(Math.max(cursor.pitch + (upwards || 0), f.top - f.rows + 1), f.top);
      show();
      say(`cursor at beat ${(cursor.beat + 1).toFixed(2)}, pitch ${cursor.pitch}`);
    } else if (grid && key === "Enter") { cursor.shown = true; hands({ do: "draw", pitch: cursor.pitch, start: cursor.beat }); cursor.beat = Math.min(cursor.beat + f.step, f.beats - f.step); }
    else done = false;
    if (done) { event.preventDefault(); event.stopPropagation(); }
  }, true);
  document.addEventListener("focusin", (event) => {
    if (event.target.id === "notes") { const f = facts(); cursor.pitch = Math.min(Math.max(cursor.pitch, f.top - f.rows + 1), f.top); cursor.shown = true; show(); }
  });

  // tools
  document.addEventListener("change", (event) => {
    if (event.target.id === "snap-pick") { $("phrase-snap").value = event.target.value; again(); }
    if (event.target.id === "idiom-pick" && event.target.value) hands({ do: "idiom", slug: event.target.value });
  });
  document.addEventListener("click", (event) => {
    const lane = event.target.closest(".lane-pick [data-lane]");
    if (lane) { $("phrase-lane").value = lane.dataset.lane; again(); }
    const tool = event.target.closest("[data-notes]")?.dataset.notes;
    if (tool === "transpose") hands({ do: "transpose", semitones: Number(event.target.closest("[data-notes]").dataset.by) });
    if (tool === "clear-lane") hands({ do: "clear-lane", lane: facts().lane });
    if (tool === "double" || tool === "delete") hands({ do: tool, ids: [...picked] });
  });
}
