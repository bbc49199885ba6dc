// One version on the whole page: always the newest. The server tells which that is; what shows an older one is marked so
// at once and drawn anew, whoever made the new one: a hand here, another page, or a level match that found its gain.
import { send } from "./keeping.js";

const slug = document.body.dataset.slug;
const $ = (id) => document.getElementById(id);
const dispatch = (name) => document.body.dispatchEvent(new CustomEvent(name));

let newest = Number(document.body.dataset.newest || 0);
let known = newest;
let state = null;
let since = 0;

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
  if (!state) return;
  document.body.classList.toggle("unmeasured", Boolean(state.problem));
  for (const node of document.querySelectorAll(".waits")) node.textContent = document.body.dataset[state.problem ? "stopped" : "waits"];
}

// While an edit of this page is on its way, what the server tells may be that edit: its answer is waited for.
function follow() {
  if (!state || state.version <= known) return;
  if (document.body.dataset.keeping) { setTimeout(follow, 40); return; }
  known = state.version;
  dispatch("edited");
  dispatch("redrawn");
}

function showProgress() {
  const box = $("measuring");
  if (!box) return;
  const busy = state !== null && state.share !== null;
  if (!busy) { since = 0; box.hidden = true; return; }
  since ||= performance.now();
  box.hidden = performance.now() - since < 1400;
  $("measuring-words").textContent = `Measuring, ${Math.round(100 * state.share)} %`;
  box.querySelector("rect").setAttribute("width", `${100 * state.share}%`);
}

function hear(told) {
  const before = state;
  state = told;
  raise(told.version);
  follow();
  showProgress();
  const news = ["findings", "stage", "problem"].some((name) => !before || before[name] !== told[name]);
  if (news) dispatch("measured");
  // it goes on where it was stopped: what waits no more asks again
  if (before?.problem && !told.problem) dispatch("edited");
}

function connect(wait = 500) {
  const socket = new WebSocket(`${location.protocol === "https:" ? "wss" : "ws"}://${location.host}/patch/${slug}/news`);
  socket.onmessage = (event) => { wait = 500; hear(JSON.parse(event.data)); };
  socket.onclose = ({ code }) => { if (code !== 4404) setTimeout(() => connect(Math.min(2 * wait, 8000)), wait); };
}

export function startVersions() {
  document.body.addEventListener("htmx:beforeOnLoad", ({ detail: { xhr } }) => {
    if (xhr.status === 200 && (xhr.getResponseHeader("content-type") || "").includes("json")) answered(JSON.parse(xhr.responseText).version);
  });
  document.body.addEventListener("answered", ({ detail }) => answered(detail.version));
  document.body.addEventListener("htmx:afterSettle", mark);
  $("measuring-stop")?.addEventListener("click", () => send("measure-stop"));
  mark();
  connect();
}
