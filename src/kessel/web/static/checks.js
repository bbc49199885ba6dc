// The Checks workspace under a hand: topics, what is picked in them, rooms and the reference while it plays.
import { draw, post } from "./panels.js";

const slug = document.body.dataset.slug;
const $ = (id) => document.getElementById(id);

export function startChecks(player) {
  const ask = (name, value) => { $(`editor-${name}`).value = value; };
  // what is known is shown at once; what has to be measured follows
  const fresh = () => draw(`/patch/${slug}/sheet?now=true`, "#sheet", { source: "#sheet" });
  function go(topic, pick, spot) {
    if ($("sheet").dataset.view !== "checks") player.workspace("checks");
    ask("topic", topic);
    ask("pick", pick);
    ask("spot", spot);
    player.address();
    fresh();
  }

  let room = "";
  function listenIn(id) {
    room = id;
    player.send({ do: "room", room });
    show();
  }
  let reference = false;
  function show() {
    const pick = $("room-pick");
    if (pick.value !== room) pick.value = room;
    for (const b of document.querySelectorAll("[data-room]")) b.setAttribute("aria-pressed", String(b.dataset.room === room));
    for (const b of document.querySelectorAll("[data-reference]")) b.setAttribute("aria-pressed", String(reference));
  }
  document.body.addEventListener("htmx:afterSettle", show);
  document.body.addEventListener("rejudged", () => { if (room) player.send({ do: "room", room }); });
  document.addEventListener("change", (event) => { if (event.target.id === "room-pick") listenIn(event.target.value); });

  document.addEventListener("click", (event) => {
    const at = (what) => event.target.closest(what);
    let found;
    if ((found = at("[data-topic]"))) { if ($("sheet").dataset.view === "checks" || found.closest("#rail")) go(found.dataset.topic, "", ""); }
    else if ((found = at("[data-pick]")) && found.tagName === "BUTTON" && found.closest("#sheet")) go($("editor-topic").value, found.dataset.pick, "");
    else if ((found = at("[data-spot]"))) go($("editor-topic").value, $("editor-pick").value, found.dataset.spot);
    else if ((found = at("[data-room]"))) listenIn(room === found.dataset.room ? "" : found.dataset.room);
    else if (at("[data-reference]")) { reference = !reference; player.send({ do: "reference", on: reference }); show(); }
  });
  // an edit ends a plan, as it was made for what was there before
  document.body.addEventListener("edited", () => { if ($("editor-spot")) ask("spot", ""); });
  document.body.addEventListener("chosen", (event) => {
    for (const name of ["topic", "pick"]) if (event.detail[name] !== undefined) ask(name, event.detail[name]);
    // a new neighbour is the one to be looked at
    if (event.detail.beside !== undefined && $("editor-topic")?.value === "neighbours") { ask("pick", event.detail.beside); player.address(); }
  });
  // the vectors follow a hand that is still turning
  let asking = false, next = null;
  const before = player.onTurn;
  player.onTurn = (path, how) => {
    before(path, how);
    if (!document.querySelector(`.by-hand [data-rule="${path}"]`)) return;
    next = { path, ...how };
    if (!asking) follow();
  };
  async function follow() {
    const box = document.querySelector(".by-hand");
    if (!box || !next) { asking = false; return; }
    asking = true;
    const words = new URLSearchParams({ key: box.dataset.key, ...next });
    next = null;
    const answer = await fetch(`/patch/${slug}/foreseen?${words}`).catch(() => null);
    for (const { note, end, loss, fails } of answer && answer.ok ? await answer.json() : []) {
      const dial = document.querySelector(`.dial[data-note="${note}"]`);
      if (!dial) continue;
      for (const line of dial.querySelectorAll(".turned, .sum")) { line.setAttribute("x2", end[0]); line.setAttribute("y2", end[1]); }
      dial.querySelector("b").textContent = loss;
      dial.classList.toggle("fails", fails);
    }
    follow();
  }

  // a stretch of the recording is drawn with the hand
  let stretch = null;
  const shareOf = (event) => { const box = stretch.node.getBoundingClientRect(); return Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1); };
  document.addEventListener("pointerdown", (event) => {
    const node = event.target.closest?.("[data-stretch]");
    if (!node || event.button !== 0) return;
    stretch = { node, from: 0 };
    stretch.from = shareOf(event);
    event.preventDefault();
  });
  const drawStretch = (event) => {
    const to = shareOf(event), low = Math.min(stretch.from, to), wide = Math.abs(to - stretch.from);
    const mark = stretch.node.querySelector(".stretch");
    mark.setAttribute("x", `${100 * low}%`);
    mark.setAttribute("width", `${100 * wide}%`);
    return { low, wide };
  };
  document.addEventListener("pointermove", (event) => { if (stretch) drawStretch(event); });
  document.addEventListener("pointerup", (event) => {
    if (!stretch) return;
    const { low, wide } = drawStretch(event), seconds = Number(stretch.node.dataset.stretch);
    stretch = null;
    post("reference/whole-stretch", new URLSearchParams({ start: (low * seconds).toFixed(3), seconds: (wide * seconds).toFixed(3) }));
  });
  // a difference shows its place
  const point = (event) => {
    const where = $("where"), item = event.target.closest?.(".difference");
    if (!item || !where) return;
    where.dataset.shown = String(item.dataset.x !== undefined);
    if (item.dataset.x !== undefined) { where.setAttribute("x", `${item.dataset.x}%`); where.setAttribute("width", `${item.dataset.width}%`); }
  };
  for (const name of ["mouseover", "focusin"]) document.addEventListener(name, point);
}
