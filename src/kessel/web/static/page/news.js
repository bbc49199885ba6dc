// One version on the whole page: always the newest. The server tells which that is; what shows an older one is marked so
// at once and drawn anew, whoever made the new one: a hand here, another page, or a level match that found its gain.
import { announce, on, slug } from "./page.js";
import { say } from "./notice.js";
import { missed } from "./server.js";

const FIRST = 250;
const LONGEST = 2000;
const GONE = 4404;
const SHOWN = 1400;
let newest = Number(document.body.dataset.newest || 0);
let known = newest;
let since = 0;

export const newsStore = {
  now: null,
  get share() { return this.now?.share ?? null; },
  get words() { return this.now?.cures ? this.now.curing : `Measuring, ${Math.round(100 * (this.share ?? 0))} %`; },
  get cures() { return Boolean(this.now?.cures); },
  slow: false,
};

// A version that this page was told of with an answer of its own: it draws that anyway.
function answered(version) {
  if (typeof version !== "number") return;
  known = Math.max(known, version);
  raise(version);
}

function raise(version) {
  newest = Math.max(newest, version);
  document.body.dataset.newest = newest;
  mark();
}

function mark() {
  for (const part of document.querySelectorAll("[data-version]")) {
    const own = Number(part.dataset.version);
    // what was never measured says so itself
    part.classList.toggle("older", own >= 0 && own < newest);
  }
  const { now } = window.Alpine.store("news");
  if (!now) return;
  document.body.classList.toggle("unmeasured", Boolean(now.problem));
  for (const node of document.querySelectorAll(".waits")) node.textContent = document.body.dataset[now.problem ? "stopped" : "waits"];
}

// While an edit of this page is on its way, what the server tells may be that edit: its answer is waited for.
function follow(version) {
  if (version <= known) return;
  if (document.body.dataset.keeping) { setTimeout(follow, 40, version); return; }
  known = version;
  announce("edited", "redrawn");
}

function hear(told) {
  const store = window.Alpine.store("news");
  const before = store.now;
  store.now = told;
  raise(told.version);
  follow(told.version);
  since = told.share === null ? 0 : since || performance.now();
  store.slow = since > 0 && performance.now() - since > SHOWN;
  if (before?.cures && !told.cures) say(told.curing);
  if (told.idle && told.idle !== before?.idle) say(told.idle);
  if (["findings", "stage", "problem"].some((name) => !before || before[name] !== told[name])) announce("measured");
  // it goes on where it was stopped: what waits no more asks again
  if (before?.problem && !told.problem) announce("edited");
}

function connect(pause = FIRST) {
  const socket = new WebSocket(`${location.protocol === "https:" ? "wss" : "ws"}://${location.host}/patch/${slug}/news`);
  socket.onopen = () => { pause = FIRST; };
  socket.onmessage = ({ data }) => hear(JSON.parse(data));
  socket.onclose = async ({ code }) => {
    if (code === GONE) return;
    await missed();
    setTimeout(connect, pause, Math.min(2 * pause, LONGEST));
  };
}

export function startNews() {
  on("answered", ({ detail }) => answered(detail.version));
  on("htmx:afterSettle", mark);
  // a server that was started again counts its versions anew
  on("answers", () => { newest = known = 0; });
  mark();
  connect();
}
