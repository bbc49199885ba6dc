// Holds the socket; sound goes straight on to the audio worklet, words to the page. After a break it says again all that
// was set, in this order, so that the stream is as it was.
const ORDER = ["on", "loop", "listen", "solo", "room", "reference", "compare", "try", "midi", "play"];
// of these only the last one stands
const INSTEAD = { compare: "try", try: "compare" };
const FIRST = 250;
const LONGEST = 2000;
const GONE = 4404;
let socket = null;
let pipe = null;
let path = "";
let opening = false;
let beat = -1;
let pause = FIRST;
let timer = 0;
// where an outside clock stands, in its ticks, and whether it runs
let ticks = 0;
let runs = false;
let at = 0;
const standing = new Map();

const keyOf = ({ do: deed, bytes }) => (deed === "midi" ? `midi ${bytes[0]} ${bytes[0] >> 4 === 0xb ? bytes[1] : ""}` : deed);

const [TICK, START, CONTINUE, STOP, POSITION] = [0xf8, 0xfa, 0xfb, 0xfc, 0xf2];
const TICKS_PER_SIXTEENTH = 6;

function count([kind, low, high]) {
  if (kind === TICK && runs) ticks += 1;
  if (kind === START) ticks = 0;
  if (kind === POSITION) ticks = TICKS_PER_SIXTEENTH * (high << 7 | low);
  if (kind === START || kind === CONTINUE) runs = true;
  if (kind === STOP) runs = false;
}

// What stays so until it is set anew. A note does not: nobody holds its key any more.
function remember(message) {
  if (message.do === "clock") { count(message.bytes); at = message.at; return; }
  if (message.do === "play") beat = -1;
  standing.delete(INSTEAD[message.do]);
  if (message.do === "stop") standing.delete("play");
  else if ((message.do === "compare" && !message.what) || (message.do === "try" && !message.which)) standing.delete(message.do);
  else if (ORDER.includes(message.do) && !(message.do === "midi" && message.bytes[0] < 0xb0)) standing.set(keyOf(message), message);
}

function later() {
  timer = setTimeout(open, pause);
  pause = Math.min(2 * pause, LONGEST);
}

// The player is a process of its own; where it is, only the server knows.
async function open() {
  clearTimeout(timer);
  if (opening) return;
  opening = true;
  const found = await fetch("/player").then((answer) => answer.json()).catch(() => null);
  opening = false;
  if (!found) { later(); return; }
  socket = new WebSocket(`ws://${location.hostname}:${found.port}${path}`);
  socket.binaryType = "arraybuffer";
  socket.onopen = () => {
    pause = FIRST;
    if (standing.has("on")) pipe?.postMessage({ again: true });
    const rank = ({ do: deed }) => ORDER.indexOf(deed);
    // it plays on where it broke off
    if (standing.has("play") && beat >= 0) standing.set("play", { do: "play", beat });
    const again = [...standing.values()].sort((a, b) => rank(a) - rank(b));
    // a clock goes on where it is now
    if (runs) again.push({ do: "clock", bytes: [CONTINUE], ticks, at });
    for (const message of again) socket.send(JSON.stringify(message));
    postMessage({ say: "open" });
  };
  socket.onmessage = ({ data }) => {
    if (typeof data !== "string") {
      beat = new Float32Array(data, 0, 1)[0];
      pipe?.postMessage({ sound: data }, [data]);
      return;
    }
    const message = JSON.parse(data);
    if (message.say === "stopped") standing.delete("play");
    postMessage(message);
  };
  socket.onclose = ({ code }) => {
    postMessage({ say: "closed", gone: code === GONE });
    if (code === GONE) return;
    later();
  };
}

function tell(message) {
  remember(message);
  if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify(message));
}

onmessage = ({ data }) => {
  if (data.open) { path = data.open; open(); }
  if (data.tell) tell(data.tell);
  if (data.again && (!socket || socket.readyState === WebSocket.CLOSED)) open();
  if (data.pipe) {
    pipe = data.pipe;
    pipe.onmessage = ({ data: heard }) => tell({ do: "heard", ...heard });
  }
};
