// The computer keyboard: shortcuts, and notes when Keys is on.
const NOTES = { a: 0, w: 1, s: 2, e: 3, d: 4, f: 5, t: 6, g: 7, y: 8, h: 9, u: 10, j: 11, k: 12, o: 13, l: 14, p: 15 };

export function startKeys(player) {
  const down = player.heldKeys;
  const hands = player.controller;
  const typing = (node) => node.matches?.("input, select, textarea") && node.type !== "range";
  const chosen = () => document.getElementById("editor-layer").value;
  const press = (id) => document.getElementById(id).click();

  function playing() { return document.getElementById("keys").getAttribute("aria-pressed") === "true"; }

  const shortcuts = {
    " ": () => player.toggle(),
    l: () => press("loop"),
    n: () => press("keys"),
    r: () => press("record"),
    p: () => player.phrasePanel(),
    m: () => player.listen(document.querySelector("[data-listen=mono]").getAttribute("aria-checked") === "true" ? "stereo" : "mono"),
    s: () => player.setSolo(chosen()),
    x: () => document.querySelector(`#strip-${chosen()} [data-choose$=".mute"]`).click(),
    ",": () => player.octave(-1),
    ".": () => player.octave(1),
    1: () => player.workspace("layers"),
    2: () => player.workspace("movement"),
    3: () => player.workspace("shaping"),
    4: () => player.workspace("checks"),
    "?": () => document.querySelector("nav [data-act=help]").click(),
    ArrowUp: () => player.neighbour(1),
    ArrowDown: () => player.neighbour(-1),
  };

  document.addEventListener("keydown", (event) => {
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    if ((event.ctrlKey || event.metaKey) && key === "z") {
      if (typing(event.target) && event.target.dataset.dirty === "yes") return;
      event.preventDefault();
      player.history(event.shiftKey ? "redo" : "undo");
      return;
    }
    if (event.altKey && !event.ctrlKey && (key === "ArrowUp" || key === "ArrowDown") && !typing(event.target) && !event.defaultPrevented) {
      event.preventDefault();
      player.moveLayer(key === "ArrowUp" ? 1 : -1);
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target) || event.defaultPrevented) return;
    if (playing() && key in NOTES) {
      event.preventDefault();
      if (event.repeat || down.has(key)) return;
      const pitch = hands.base + NOTES[key];
      down.set(key, pitch);
      hands.note(pitch, hands.velocity);
      return;
    }
    if (playing() && (key === "z" || key === "x")) { hands.octave(key === "x" ? 12 : -12); return; }
    if (playing() && (key === "c" || key === "v")) { hands.harder(key === "v" ? 10 : -10); return; }
    if (key === " " && event.target.matches?.("button, a")) event.target.blur();
    if (key in shortcuts) { event.preventDefault(); shortcuts[key](); }
  });
  document.addEventListener("keyup", (event) => {
    const key = event.key.toLowerCase();
    if (!down.has(key)) return;
    hands.note(down.get(key), 0);
    down.delete(key);
  });
  window.addEventListener("blur", () => {
    for (const pitch of down.values()) hands.note(pitch, 0);
    down.clear();
  });
}
