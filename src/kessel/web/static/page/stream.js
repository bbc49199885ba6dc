// The live stream: a worker holds the socket, an audio worklet plays what comes, and the page is not in between.
import { slug } from "./page.js";

const hearers = new Map();
let worker = null;
let context = null;
let gain = null;
let analyser = null;
let heard = -1;
let level = 10 ** (-9 / 20);

export function openStream() {
  worker = new Worker(new URL("./stream-worker.js", import.meta.url));
  worker.onmessage = ({ data }) => told(data);
  worker.postMessage({ open: `/patch/${slug}/live` });
}

const told = (message) => { for (const act of hearers.get(message.say) ?? []) act(message); };

// Call act with every message of a kind: value, problem, curve, edited, recording, stopped, state, closed; heard (beat,
// peak and gaps, as often as they can be drawn); turn (a control under a hand of this page).
export function hear(kind, act) { hearers.set(kind, [...(hearers.get(kind) ?? []), act]); }

export function tell(message) {
  if (message.do === "turn") told({ say: "turn", ...message });
  worker.postMessage({ tell: message });
}

export const again = () => worker?.postMessage({ again: true });
export const sound = () => analyser;
// The beat that is heard now; below 0 nothing plays.
export const beat = () => heard;

// Sound starts with a gesture, as browsers ask.
export async function start() {
  if (context) { await context.resume(); return; }
  context = new AudioContext({ sampleRate: 48000, latencyHint: "interactive" });
  await context.audioWorklet.addModule(new URL("./ring-worklet.js", import.meta.url));
  const node = new AudioWorkletNode(context, "ring", { numberOfInputs: 0, outputChannelCount: [2] });
  gain = new GainNode(context, { gain: level });
  analyser = new AnalyserNode(context, { fftSize: 8192, smoothingTimeConstant: 0 });
  node.connect(analyser);
  node.connect(gain).connect(context.destination);
  const pipe = new MessageChannel();
  node.port.onmessage = ({ data }) => { heard = data.beat; told({ say: "heard", ...data }); };
  node.port.postMessage({ pipe: pipe.port1 }, [pipe.port1]);
  worker.postMessage({ pipe: pipe.port2 }, [pipe.port2]);
  tell({ do: "on" });
  await context.resume();
}

export async function note(pitch, velocity) {
  await start();
  tell({ do: "note", pitch, on: velocity > 0, velocity: velocity || 100 });
}

export async function midi(bytes) {
  await start();
  tell({ do: "midi", bytes });
}

// A message of a clock, with the time at which it came (ms), however late it is read, and with how long sound takes out.
export function clock(bytes, at) {
  const out = 1000 * ((context?.baseLatency || 0) + (context?.outputLatency || 0));
  tell({ do: "clock", bytes, at, out: Math.min(out, 1000) });
}

// silent: the share of full level, 0..1
export function setLevel(share) {
  level = share;
  gain?.gain.setTargetAtTime(level, context.currentTime, 0.01);
}
