// Files that are sent: how far they are, and a way to give up, for what takes longer than a moment.
import { fetched, on, rest } from "./page.js";
import { say } from "./notice.js";

const MOMENT = 900;
const POLL = 400;
const ticket = () => [...crypto.getRandomValues(new Uint8Array(12))].map((b) => b.toString(16).padStart(2, "0")).join("");
let current = null;

export const importStore = {
  shown: false,
  words: "",
  share: null,
  // how far it is; without a figure the bar only shows that it goes on
  bar(progress) { if (this.share === null) progress.removeAttribute("value"); else progress.value = this.share; },
  cancel() { if (current) cancel(current); },
};

function show(one) {
  if (performance.now() - one.since < MOMENT || one.over) return;
  const words = `${one.sent ? "Reading" : "Sending"} ${one.name}`;
  Object.assign(window.Alpine.store("imports"), {
    shown: true,
    words: one.share > 0 ? `${words}, ${Math.round(100 * one.share)} %` : words,
    share: one.share > 0 ? one.share : null,
  });
}

async function follow(one) {
  while (!one.over) {
    await rest(POLL);
    if (one.over || !one.sent) continue;
    const found = await fetched(`/imports/${one.ticket}`);
    if (found) one.share = found.share;
    show(one);
  }
}

function cancel(one) {
  fetch(`/imports/${one.ticket}/cancel`, { method: "POST" });
  // what is still being sent is not sent any further
  if (!one.sent) one.xhr.abort();
}

export function startImports() {
  on("htmx:configRequest", ({ detail }) => {
    const file = detail.elt.querySelector?.("input[type=file]")?.files?.[0];
    if (!file) return;
    detail.headers["X-Import"] = ticket();
    say(`Importing ${file.name}…`);
  });
  on("htmx:beforeSend", ({ detail: { xhr, requestConfig, elt } }) => {
    const name = requestConfig.headers["X-Import"];
    if (!name) return;
    const input = elt.querySelector("input[type=file]");
    const one = { ticket: name, xhr, name: input.files[0].name, share: 0, sent: false, over: false, since: performance.now() };
    current = one;
    xhr.upload.addEventListener("progress", ({ loaded, total }) => { one.share = total ? loaded / total : 0; show(one); });
    xhr.upload.addEventListener("load", () => { one.sent = true; one.share = 0; });
    xhr.addEventListener("loadend", () => {
      one.over = true;
      if (current === one) window.Alpine.store("imports").shown = false;
      // the same file can be chosen once more
      if (input.isConnected) input.value = "";
    });
    follow(one);
  });
}
