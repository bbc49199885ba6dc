// Hands: the on-screen controller, MIDI devices and the keyboard all send the same messages a MIDI device would.
const $ = (id) => document.getElementById(id);
const BLACK = [1, 3, 6, 8, 10];

export function startHands(player) {
  let base = 24;
  let velocity = 100;
  const down = new Map();
  const send = (...bytes) => player.midi(bytes);

  const controller = {
    get base() { return base; },
    get velocity() { return velocity; },
    note(pitch, hard) { send(hard > 0 ? 0x90 : 0x80, pitch, Math.max(0, Math.min(127, hard))); show(pitch, hard > 0); },
    bend(value) { const v = Math.round(Math.max(-1, Math.min(1, value)) * 8191) + 8192; send(0xe0, v & 127, v >> 7); },
    wheel(value) { send(0xb0, 1, value); },
    pressure(value) { send(0xd0, value); },
    slider(number, value) { send(0xb0, 16 + number, value); },
    octave(by) { base = Math.max(0, Math.min(96, base + by)); draw(); words(); },
    harder(by) { velocity = Math.max(1, Math.min(127, velocity + by)); $("hand-velocity").value = velocity; words(); },
  };

  function words(extra) {
    $("hands-state").textContent = extra || `octave C${base / 12 - 1}, velocity ${velocity}`;
  }
  function show(pitch, on) {
    document.querySelector(`#piano [data-pitch="${pitch}"]`)?.classList.toggle("held", on);
  }

  // three octaves of keys
  const svg = (name, attributes) => {
    const node = document.createElementNS("http://www.w3.org/2000/svg", name);
    for (const [k, v] of Object.entries(attributes)) node.setAttribute(k, v);
    return node;
  };
  function draw() {
    const piano = $("piano");
    piano.replaceChildren();
    const whites = [];
    for (let p = base; p < base + 36 && p <= 127; p++) if (!BLACK.includes(p % 12)) whites.push(p);
    const wide = 700 / whites.length;
    const names = ["C", "C sharp", "D", "E flat", "E", "F", "F sharp", "G", "A flat", "A", "B flat", "B"];
    const key = (p, x, w, h, kind) => {
      const node = svg("rect", { x, y: 0, width: w, height: h, class: `key ${kind}`, "data-pitch": p, role: "button", "aria-label": `${names[p % 12]} ${Math.floor(p / 12) - 1}` });
      piano.append(node);
    };
    whites.forEach((p, i) => key(p, i * wide, wide, 100, "white"));
    whites.forEach((p, i) => { if (BLACK.includes((p + 1) % 12) && p + 1 <= 127) key(p + 1, (i + 0.68) * wide, wide * 0.64, 62, "black"); });
  }
  draw();

  let pressed = null;
  const piano = $("piano");
  const keyAt = (event) => document.elementFromPoint(event.clientX, event.clientY)?.closest?.("#piano [data-pitch]");
  piano.addEventListener("pointerdown", (event) => {
    const key = event.target.closest("[data-pitch]");
    if (!key) return;
    event.preventDefault();
    piano.setPointerCapture(event.pointerId);
    pressed = Number(key.dataset.pitch);
    controller.note(pressed, velocity);
  });
  piano.addEventListener("pointermove", (event) => {
    if (pressed === null) return;
    const key = keyAt(event);
    const pitch = key ? Number(key.dataset.pitch) : pressed;
    if (pitch !== pressed) { const was = pressed; pressed = pitch; controller.note(pitch, velocity); controller.note(was, 0); }
  });
  const lift = () => { if (pressed !== null) { controller.note(pressed, 0); pressed = null; } };
  piano.addEventListener("pointerup", lift);
  piano.addEventListener("pointercancel", lift);

  $("hand-bend").addEventListener("input", (event) => controller.bend(event.target.value / 100));
  const spring = () => { $("hand-bend").value = 0; controller.bend(0); };
  for (const name of ["pointerup", "keyup", "blur"]) $("hand-bend").addEventListener(name, spring);
  $("hand-wheel").addEventListener("input", (event) => controller.wheel(Number(event.target.value)));
  $("hand-pressure").addEventListener("input", (event) => controller.pressure(Number(event.target.value)));
  $("hand-velocity").addEventListener("input", (event) => { velocity = Number(event.target.value); words(); });
  for (const slider of document.querySelectorAll("[data-slider]")) slider.addEventListener("input", () => controller.slider(Number(slider.dataset.slider), Number(slider.value)));
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-hands=octave]");
    if (button) controller.octave(Number(button.dataset.by));
  });

  // devices, where the browser has them
  player.listenMidi = async () => {
    if (!navigator.requestMIDIAccess) { words("this browser has no MIDI: use the keys here"); return; }
    try {
      const access = await navigator.requestMIDIAccess();
      const hear = () => {
        const names = [];
        for (const input of access.inputs.values()) { names.push(input.name); input.onmidimessage = ({ data }) => { player.start(); send(...data.slice(0, 3)); }; }
        words(names.length ? `MIDI from ${names.join(", ")}` : "no MIDI device is plugged in");
      };
      access.onstatechange = hear;
      hear();
    } catch { words("the browser did not allow MIDI"); }
  };

  player.controller = controller;
  player.heldKeys = down;
}
