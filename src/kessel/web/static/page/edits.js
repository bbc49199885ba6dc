// Edits go to the server one after the other, in the order in which they were made. While it does not answer they wait
// here, and the controls they changed are marked.
import { announce, on, rest, slug } from "./page.js";
import { say } from "./notice.js";
import { missed } from "./server.js";

// browsers let an edit of less than 64 KiB outlive its page
const OUTLIVES = 4096;
const AGAIN = 100;
const line = [];
let running = false;
let leaving = false;
let under = 0;

// Counts what is on its way: the body says so. What it gives is called once that is over.
export function keeping() {
  under += 1;
  document.body.dataset.keeping = under;
  return () => {
    under -= 1;
    if (under) document.body.dataset.keeping = under;
    else delete document.body.dataset.keeping;
  };
}

function ask({ address, id, body }, before) {
  const json = body !== undefined && !(body instanceof URLSearchParams);
  const text = json ? JSON.stringify(body) : body;
  const headers = { "X-Edit": id, ...(before && { "X-After": before.id }), ...(json && { "content-type": "application/json" }) };
  return fetch(address, { method: "POST", headers, body: text, keepalive: String(text ?? "").length < OUTLIVES });
}

async function run() {
  running = true;
  while (line.length) {
    const one = line[0];
    // an answer that broke off is none
    const answer = await ask(one).then(answered).catch(() => null);
    if (!answer) {
      await missed();
      await rest(AGAIN);
      continue;
    }
    one.done(answer);
    line.shift();
    mark();
  }
  running = false;
}

async function answered(response) {
  const text = await response.text();
  if (!response.ok || response.headers.has("x-refused")) {
    const refused = text.trim();
    say(refused, true);
    return { refused };
  }
  const json = (response.headers.get("content-type") ?? "").includes("json");
  const found = json ? JSON.parse(text) : { label: null };
  document.body.dispatchEvent(new CustomEvent("answered", { detail: { version: found.version } }));
  return { found, trigger: response.headers.get("hx-trigger") };
}

function mark(away = window.Alpine.store("server").away) {
  window.Alpine.store("server").edits = line.length;
  const paths = new Set(away ? line.map(({ body }) => body?.path).filter(Boolean) : []);
  for (const node of document.querySelectorAll("[data-value], [data-rule], [data-handle]")) {
    node.classList.toggle("unsent", paths.has(node.dataset.value || node.dataset.rule || node.dataset.handle));
  }
}

// Ask for an edit. Gives {found, trigger}, or {refused} in the server's own words.
export function sendTo(address, body) {
  const over = keeping();
  return new Promise((done) => {
    const one = { address, body, done, id: crypto.randomUUID() };
    line.push(one);
    mark();
    if (leaving) ask(one, line.at(-2)).catch(() => {});
    else if (!running) run();
  }).finally(over);
}
export const send = (where, body) => sendTo(`/patch/${slug}/${where}`, body);

// Ask for an edit that is answered with a label and events. Gives false if it was refused or changed nothing.
export async function post(where, body) {
  const { refused, found, trigger } = await send(where, body);
  if (refused) return false;
  tell(found, trigger);
  return found.label !== null;
}

function tell(found, trigger) {
  if (found.label) say(found.label);
  for (const [name, detail] of Object.entries(JSON.parse(trigger || "{}"))) document.body.dispatchEvent(new CustomEvent(name, { detail }));
}

// A button, list or form of htmx that is answered with a label sends its edit in the same line. Files are sent by htmx.
function takeOver(event) {
  const { requestConfig: { verb, path, formData, headers }, elt } = event.detail;
  if (verb === "get" || !path.startsWith(`/patch/${slug}/`) || headers["X-Import"] || elt.closest("[data-at-once]") || window.htmx.closest(elt, "[hx-swap]")?.getAttribute("hx-swap") !== "none") return;
  event.preventDefault();
  const over = keeping();
  sendTo(path, new URLSearchParams([...formData.entries()])).then(({ refused, found, trigger }) => {
    if (refused) elt.dispatchEvent(new CustomEvent("refused", { bubbles: true, detail: { refused } }));
    else { elt.dispatchEvent(new CustomEvent("kept", { bubbles: true })); tell(found, trigger); }
  }).finally(over);
}

// The answer to what htmx sent. It tells its events to the element; if that is gone, they are told to the page.
function sentByHtmx(elt, xhr) {
  if (xhr.status !== 200 || xhr.getResponseHeader("x-refused") || !(xhr.getResponseHeader("content-type") ?? "").includes("json")) return;
  const found = JSON.parse(xhr.responseText);
  document.body.dispatchEvent(new CustomEvent("answered", { detail: { version: found.version } }));
  tell(found, elt.isConnected ? null : xhr.getResponseHeader("hx-trigger"));
}

// A question that a newer one replaces is meant to end; htmx would log it as an error.
const quietly = (act) => (...all) => {
  const { error } = console;
  console.error = () => {};
  try { act(...all); } finally { console.error = error; }
};

export function startEdits() {
  window.Alpine.effect(() => mark(window.Alpine.store("server").away));
  on("htmx:beforeRequest", takeOver);
  on("htmx:beforeSend", ({ detail: { elt, xhr, requestConfig } }) => {
    xhr.onabort = quietly(xhr.onabort);
    xhr.addEventListener("load", () => { if (xhr.getResponseHeader("x-refused")) say(xhr.responseText.trim(), true); });
    if (requestConfig.verb === "get") return;
    xhr.addEventListener("loadend", keeping());
    xhr.addEventListener("load", () => sentByHtmx(elt, xhr));
  });
  on("htmx:beforeSwap", ({ detail }) => { if (detail.xhr.getResponseHeader("x-refused")) detail.shouldSwap = false; });
  on("htmx:responseError", ({ detail: { xhr } }) => say(xhr.responseText.trim(), true));
  on("htmx:sendError", missed);
  on("answers", () => announce("edited", "redrawn", "measured"));
  // who leaves takes nothing along: what is still in the line is sent at once, each with the name of the one before
  window.addEventListener("pagehide", () => {
    leaving = true;
    line.forEach((one, n) => { if (n || !running) ask(one, line[n - 1]).catch(() => {}); });
  });
  window.addEventListener("pageshow", () => { leaving = false; });
  window.addEventListener("beforeunload", (event) => { if (line.length && window.Alpine.store("server").away) event.preventDefault(); });
}
