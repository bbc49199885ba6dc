// The workspace around the controls: transport, layers, tabs, findings, playhead, meter.
import { holding } from "./controls.js";
import { keeping, say, send } from "./keeping.js";
import { post } from "./panels.js";

const slug = document.body.dataset.slug;
const $ = (id) => document.getElementById(id);

export function startWorkspace(player) {
  const solo = new Set();

  // transport
  const playButton = () => $("play");
  const show = () => playButton().setAttribute("aria-pressed", String(player.playing));
  const toggle = async () => { if (player.playing) player.stop(); else await player.play(); show(); };
  player.onStopped = show;
  player.onRecording = (on) => press($("record"), on);
  player.onEdited = (message) => { say(message.label); for (const name of ["edited", "redrawn"]) document.body.dispatchEvent(new CustomEvent(name)); };
  player.onState = (state) => {
    const words = state.mode === "off" ? "stream off" : `${state.mode === "loop" ? "loop" : "live"} ${state.lead_ms} ms`;
    $("stream-mode").textContent = words;
    $("stream").classList.toggle("loop", state.mode === "loop");
    $("stream").title = state.mode === "loop"
      ? "Playing the rendered loop: the engine can't keep up. It returns to live by itself, and when you turn or play something."
      : `How far the engine runs ahead of what you hear; ${state.underruns} gaps so far; a quantum costs ${state.cost_percent ?? 0} % of its time`;
  };
  function press(button, on) { button.setAttribute("aria-pressed", String(on)); }

  const acts = {
    play: toggle,
    loop: (button) => { const on = button.getAttribute("aria-pressed") !== "true"; press(button, on); player.send({ do: "loop", on }); },
    keys: (button) => { const on = button.getAttribute("aria-pressed") !== "true"; press(button, on); $("hands").hidden = !on; player.start(); },
    record: (button) => player.send({ do: "record", on: button.getAttribute("aria-pressed") !== "true", snap: $("phrase-snap")?.value || "1/16" }),
    phrase: () => player.phrasePanel(),
    midi: () => player.listenMidi(),
  };
  function listen(mode) {
    for (const b of document.querySelectorAll("[data-listen]")) b.setAttribute("aria-checked", String(b.dataset.listen === mode));
    player.send({ do: "listen", mode });
  }
  const volume = $("volume");
  player.setVolume(Number(volume.value));
  volume.addEventListener("input", () => player.setVolume(Number(volume.value)));

  // history: steps asked for quickly are taken one after the other, and drawn once
  let steps = Promise.resolve(), left = 0;
  function history(way) {
    left += 1;
    const over = keeping();
    steps = steps.then(() => step(way)).finally(() => {
      left -= 1;
      over();
      if (!left) for (const name of ["edited", "redrawn"]) document.body.dispatchEvent(new CustomEvent(name));
    });
    return steps;
  }
  async function step(way) {
    const answer = await send(way);
    if (!answer || answer.refused) return;
    const { found } = answer;
    say(found.label ? `${way === "undo" ? "Undone" : "Redone"}: ${found.label}` : `Nothing to ${way}`);
  }

  // layers and tabs
  function reload() { document.body.dispatchEvent(new CustomEvent("redrawn")); }
  function address() {
    const words = new URLSearchParams(["view", "layer", "tab", "item", "group", "what", "curve", "topic", "pick"].map((name) => [name, $(`editor-${name}`).value]).filter(([, value]) => value));
    window.history.replaceState(null, "", `/patch/${slug}?${words}`);
  }
  function choose(layer) {
    $("editor-layer").value = layer;
    $("editor-item").value = "";
    for (const strip of document.querySelectorAll(".strip.layer")) {
      const on = strip.dataset.layer === layer;
      strip.classList.toggle("chosen", on);
      strip.querySelector("[data-layer-choose]").setAttribute("aria-pressed", String(on));
      if (on) strip.scrollIntoView({ block: "nearest" });
    }
    address();
    reload();
  }
  function neighbour(by) {
    const layers = $("sheet").dataset.layers.split(" ");
    const at = layers.indexOf($("editor-layer").value);
    choose(layers[Math.min(Math.max(at + by, 0), layers.length - 1)]);
  }
  let alone = "";
  function soloSource(word) {
    alone = alone === word ? "" : word;
    showSolo();
    player.send({ do: "solo", layers: [...solo], source: alone || null });
  }
  function setSolo(layer) {
    if (solo.has(layer)) solo.delete(layer); else solo.add(layer);
    showSolo();
    player.send({ do: "solo", layers: [...solo], source: alone || null });
  }
  function showSolo() {
    for (const b of document.querySelectorAll("[data-solo]")) press(b, solo.has(b.dataset.solo));
    for (const b of document.querySelectorAll("[data-source-solo]")) press(b, b.dataset.sourceSolo === alone);
  }
  const octave = (by) => post("octave", new URLSearchParams({ layer: $("editor-layer").value, by }));

  document.addEventListener("click", (event) => {
    const at = (what) => event.target.closest(what);
    let found;
    if ((found = at("[data-act]")) && acts[found.dataset.act]) acts[found.dataset.act](found);
    else if ((found = at("[data-listen]"))) listen(found.dataset.listen);
    else if ((found = at("[data-step]"))) history(found.dataset.step);
    else if ((found = at("[data-layer-choose]"))) choose(found.dataset.layerChoose);
    else if ((found = at("[data-solo]"))) setSolo(found.dataset.solo);
    else if ((found = at("[data-source-solo]"))) soloSource(found.dataset.sourceSolo);
    else if ((found = at("[data-group]"))) { $("editor-group").value = found.dataset.group; address(); reload(); }
    else if ((found = at("[data-octave]"))) octave(Number(found.dataset.octave));
    else if ((found = at("[data-tab]"))) {
      const both = ["sources", "wave"];
      if (!both.includes(found.dataset.tab) || !both.includes($("editor-tab").value)) $("editor-item").value = "";
      $("editor-tab").value = found.dataset.tab; $("editor-frame").value = "0"; address(); reload();
    } else if ((found = at("[data-item]"))) { $("editor-item").value = found.dataset.item; $("editor-frame").value = "0"; address(); reload(); }
  });

  // what the server's answers say happened
  document.body.addEventListener("chosen", (event) => {
    if (!$("editor-tab")) return;
    for (const name of ["layer", "tab", "item", "frame", "curve", "group", "what"]) if (event.detail[name] !== undefined) $(`editor-${name}`).value = event.detail[name];
    if (event.detail.layer !== undefined && event.detail.item === undefined) $("editor-item").value = "";
    address();
  });
  document.body.addEventListener("htmx:beforeSwap", (event) => {
    // a fragment never takes a control out of a hand
    if (holding() && ["sheet", "editor", "phrase-panel", "curve-box", "strip-row"].includes(event.detail.target.id)) {
      event.detail.shouldSwap = false;
      const again = event.detail.target.id === "sheet" ? "edited" : "redrawn";
      document.body.addEventListener("letgo", () => document.body.dispatchEvent(new CustomEvent(again)), { once: true });
    }
  });
  // what was scrolled to stays in sight
  const scrolled = new Map();
  document.body.addEventListener("htmx:beforeSwap", ({ detail: { target } }) => scrolled.set(target.id, { top: target.scrollTop, side: target.dataset.side }));
  document.body.addEventListener("htmx:afterSwap", () => {
    for (const [id, { top, side }] of scrolled) if (id && $(id) && $(id).dataset.side === side) $(id).scrollTop = top;
    scrolled.clear();
  });
  // where moved controls went stands under their rules as soon as it is measured
  document.body.addEventListener("htmx:afterSwap", () => {
    for (const [path, [x, width, words]] of Object.entries(JSON.parse($("sheet").dataset.travels))) {
      for (const bar of document.querySelectorAll(`[data-rule="${path}"] .travel-bar`)) { bar.setAttribute("x", `${x}%`); bar.setAttribute("width", `${width}%`); }
      for (const said of document.querySelectorAll(`[data-ran="${path}"]`)) said.textContent = words;
    }
  });
  // what the editor's answer shows counts only when it answers what is still asked
  const kept = () => [...$("editor-state").elements];
  document.body.addEventListener("htmx:afterSwap", () => {
    const { asked, shown } = $("editor").dataset;
    if (asked === kept().map((e) => e.value).join("|")) shown.split("|").forEach((word, i) => { kept()[i].value = word; });
  });
  document.body.addEventListener("htmx:responseError", (event) => say(event.detail.xhr.responseText, true));
  document.body.addEventListener("htmx:afterSettle", showSolo);

  // a finding shows its place
  const point = (article) => {
    const where = $("where");
    const on = article && article.dataset.x !== undefined;
    if (where) {
      where.dataset.shown = String(Boolean(on));
      if (on) { where.setAttribute("x", `${article.dataset.x}%`); where.setAttribute("width", `${article.dataset.width}%`); }
    }
    const layers = article ? article.dataset.layers.split(" ") : [];
    for (const strip of document.querySelectorAll(".strip.layer")) strip.classList.toggle("pointed", layers.includes(strip.dataset.layer));
  };
  for (const name of ["mouseover", "focusin"]) document.addEventListener(name, (event) => point(event.target.closest?.(".finding") ?? null));

  // the scope: two cycles of what is heard, from a rising zero
  const scope = $("scope");
  const trace = scope.getContext("2d");
  const wave = new Float32Array(8192);
  function drawScope(style) {
    trace.clearRect(0, 0, scope.width, scope.height);
    trace.strokeStyle = style.getPropertyValue("--line2");
    trace.beginPath(); trace.moveTo(0, scope.height / 2); trace.lineTo(scope.width, scope.height / 2); trace.stroke();
    if (!player.analyser) return;
    player.analyser.getFloatTimeDomainData(wave);
    let start = 0;
    for (let i = 1; i < 4096; i++) if (wave[i - 1] < 0 && wave[i] >= 0) { start = i; break; }
    let sum = 0;
    for (let i = 0; i < 8192; i++) sum += wave[i] * wave[i];
    trace.strokeStyle = style.getPropertyValue("--copper");
    trace.lineWidth = 1.3;
    trace.beginPath();
    for (let x = 0; x < scope.width; x++) {
      const v = wave[start + Math.floor((x * 3600) / scope.width)];
      const y = scope.height * (0.5 - 0.47 * Math.max(-1, Math.min(1, v)));
      if (x) trace.lineTo(x, y); else trace.moveTo(x, y);
    }
    trace.stroke();
    const db = (v) => (v > 1e-5 ? `${(20 * Math.log10(v)).toFixed(1)} dB`.replace("-", "−") : "silent");
    let most = 0;
    for (const v of wave) most = Math.max(most, Math.abs(v));
    if (ticks++ % 4 === 0) $("scope-words").textContent = `peak ${db(most)}, RMS ${db(Math.sqrt(sum / 8192))}`;
  }
  let ticks = 0;
  let frames = 0;

  // playhead and meter, every other frame while anything sounds or still falls
  const canvas = $("meter");
  const pen = canvas.getContext("2d");
  let shown = 0;
  let clipped = 0;
  let waits = false;
  const draw = () => { if (!waits) { waits = true; requestAnimationFrame(() => requestAnimationFrame(frame)); } };
  function frame() {
    waits = false;
    const head = $("playhead");
    const beats = Number(document.querySelector(".phrase-plot")?.dataset.beats || 8);
    const on = player.playing && player.beat >= 0;
    if (head) {
      head.setAttribute("visibility", on ? "visible" : "hidden");
      if (on) head.setAttribute("x", `${(100 * player.beat) / beats}%`);
    }
    const inPanel = $("panel-head");
    if (inPanel) {
      inPanel.setAttribute("visibility", on ? "visible" : "hidden");
      if (on) inPanel.setAttribute("x", `${(100 * player.beat) / beats}%`);
    }
    player.onFrame(on, player.beat / beats);
    const level = player.peak;
    player.peak = 0;
    if (level > 1) clipped = 45;
    shown = Math.max(level, shown * 0.81);
    const style = getComputedStyle(document.documentElement);
    // half of them are enough for the eye
    if (frames++ % 2 === 0 || !on) drawScope(style);
    const db = shown > 1e-5 ? 20 * Math.log10(shown) : -60;
    pen.clearRect(0, 0, pen.canvas.width, 22);
    pen.fillStyle = style.getPropertyValue(clipped ? "--lead" : "--ink");
    pen.fillRect(2, 5, Math.max(0, (pen.canvas.width - 4) * (1 + Math.max(db, -60) / 60)), 12);
    if (clipped) {
      clipped -= 1;
      $("stream").classList.add("clip");
      $("stream-mode").textContent = "over 0 dBFS";
      if (clipped === 0) { $("stream").classList.remove("clip"); player.onState(player.state); }
    }
    if (on || shown > 1e-5 || clipped) draw();
  }
  draw();
  player.onHeard = () => { if (player.playing || player.peak > 1e-5) draw(); };
  new MutationObserver(draw).observe(document.documentElement, { attributeFilter: ["data-theme"] });

  Object.assign(player, { toggle, listen, history, neighbour, setSolo, octave, choose, address });
}
