// What all scripts of a page share: its patch, its elements, and what is announced to the fragments of htmx.
export const slug = document.body.dataset.slug;
export const $ = (id) => document.getElementById(id);
export const clamp = (value, low = 0, high = 1) => Math.min(Math.max(value, low), high);
export const announce = (...names) => { for (const name of names) document.body.dispatchEvent(new CustomEvent(name)); };
export const on = (name, act) => document.body.addEventListener(name, act);
export const rest = (milliseconds) => new Promise((done) => setTimeout(done, milliseconds));

// Where a pointer is in a box, 0..1 from the left and from the top.
export function placeIn(box, event) {
  const { left, top, width, height } = box.getBoundingClientRect();
  return { x: clamp((event.clientX - left) / width), y: clamp((event.clientY - top) / height) };
}

// A key without a modifier; what the arrows say; and a key or a press that nothing else shall hear.
export const plain = (event) => !(event.ctrlKey || event.metaKey || event.altKey);
export const arrows = ({ key }) => ({ across: { ArrowLeft: -1, ArrowRight: 1 }[key], up: { ArrowUp: 1, ArrowDown: -1 }[key] });
export function take(event) {
  event.preventDefault();
  event.stopPropagation();
}

// A part of the page anew, unless a newer answer takes its place.
export const draw = (url, target, more = {}) => window.htmx.ajax("GET", url, { target, swap: "outerHTML", ...more }).catch(() => {});

// Asks for what follows a hand: one question at a time, always the newest.
export function follower(ask) {
  let asking = false;
  let next = null;
  return async (question) => {
    next = question;
    if (asking) return;
    asking = true;
    while (next) {
      const now = next;
      next = null;
      await ask(now);
    }
    asking = false;
  };
}

// A question of the page. Gives what was answered and whether that is a refusal, or null without an answer.
export async function request(address) {
  const answer = await fetch(address, { headers: { "X-Page": "asks" } }).catch(() => null);
  return answer && { answer, refused: !answer.ok || answer.headers.has("x-refused") };
}

// JSON from the server, or null.
export async function fetched(address) {
  const found = await request(address);
  return found && !found.refused ? found.answer.json() : null;
}
