// Files that are sent: how far they are, and a way to give up, for what takes longer than a moment.
const MOMENT = 900;

function ticket() { return [...crypto.getRandomValues(new Uint8Array(12))].map((b) => b.toString(16).padStart(2, "0")).join(""); }

function box() {
  let found = document.getElementById("importing");
  if (!found) {
    found = document.createElement("div");
    found.id = "importing";
    found.className = "importing";
    found.setAttribute("role", "status");
    found.innerHTML = '<span></span><progress max="1"></progress><button type="button" class="button">Cancel</button>';
    document.body.append(found);
  }
  return found;
}

function show(words, share) {
  const at = box();
  at.querySelector("span").textContent = words;
  const bar = at.querySelector("progress");
  if (share > 0) bar.value = share; else bar.removeAttribute("value");
  return at;
}

async function follow(one) {
  while (!one.over) {
    await new Promise((done) => setTimeout(done, 400));
    if (one.over || !one.sent) continue;
    const answer = await fetch(`/imports/${one.ticket}`).catch(() => null);
    if (answer?.ok && !one.over) one.share = (await answer.json()).share;
    if (!one.over && performance.now() - one.since > MOMENT) draw(one);
  }
}

function draw(one) {
  const words = one.sent ? `Reading ${one.name}` : `Sending ${one.name}`;
  show(one.share > 0 ? `${words}, ${Math.round(100 * one.share)} %` : words, one.share).querySelector("button").onclick = () => cancel(one);
}

function cancel(one) {
  fetch(`/imports/${one.ticket}/cancel`, { method: "POST" });
  // what is still being sent is not sent any further
  if (!one.sent) one.xhr.abort();
}

export function startImports() {
  document.body.addEventListener("htmx:configRequest", ({ detail }) => {
    const file = detail.elt.querySelector?.("input[type=file]")?.files?.[0];
    if (file) detail.headers["X-Import"] = ticket();
  });
  document.body.addEventListener("htmx:beforeSend", ({ detail: { xhr, requestConfig, elt } }) => {
    const name = requestConfig.headers["X-Import"];
    if (!name) return;
    const input = elt.querySelector("input[type=file]");
    const one = { ticket: name, xhr, name: input.files[0].name, share: 0, sent: false, over: false, since: performance.now() };
    xhr.upload.addEventListener("progress", (event) => {
      one.share = event.total ? event.loaded / event.total : 0;
      if (performance.now() - one.since > MOMENT) draw(one);
    });
    xhr.upload.addEventListener("load", () => { one.sent = true; one.share = 0; });
    xhr.addEventListener("loadend", () => {
      one.over = true;
      document.getElementById("importing")?.remove();
      // the same file can be chosen once more
      if (input.isConnected) input.value = "";
    });
    follow(one);
  });
}
