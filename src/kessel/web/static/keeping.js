// What the hands ask the server to keep. The body says so until it is answered; what is refused is said.
const slug = document.body.dataset.slug;
let under = 0;

export function say(text, bad = false) {
  const line = document.getElementById("help-line");
  if (!line) return;
  line.textContent = text;
  line.classList.toggle("bad", bad);
}

// Counts what is on its way; what it gives is called once that is over.
export function keeping() {
  under += 1;
  document.body.dataset.keeping = under;
  return () => {
    under -= 1;
    if (under) document.body.dataset.keeping = under;
    else delete document.body.dataset.keeping;
  };
}

// Ask for an edit: the answer, or null when there is none; `refused` is the server's own words where it said no.
// A small edit outlives the page it was made on (browsers allow 64 KiB of them).
export async function send(where, body) {
  const json = body !== undefined && !(body instanceof URLSearchParams);
  const words = json ? JSON.stringify(body) : body;
  const over = keeping();
  try {
    const answer = await fetch(`/patch/${slug}/${where}`, {
      method: "POST",
      headers: json ? { "content-type": "application/json" } : {},
      body: words,
      keepalive: String(words ?? "").length < 4096,
    }).catch(() => null);
    if (!answer) { say("Kessel does not answer: is it still running?", true); return null; }
    if (!answer.ok) {
      const refused = await answer.text();
      say(refused, true);
      return { refused };
    }
    const found = await answer.json();
    document.body.dispatchEvent(new CustomEvent("answered", { detail: { version: found.version } }));
    return { found, trigger: answer.headers.get("hx-trigger") };
  } finally { over(); }
}

// what the page's own buttons, boxes and files ask for
export function startKeeping() {
  document.body.addEventListener("htmx:beforeSend", ({ detail: { xhr, requestConfig } }) => {
    if (requestConfig.verb !== "get") xhr.addEventListener("loadend", keeping());
  });
}
