// Whether the server answers. Whoever misses an answer says so; it is asked until it answers, however long that takes.
import { announce, rest } from "./page.js";

const FIRST = 250;
const LONGEST = 2000;
let looking = null;

export const serverStore = {
  away: false,
  edits: 0,
  get words() {
    if (!this.away) return "";
    const edits = this.edits === 1 ? " One edit waits." : this.edits ? ` ${this.edits} edits wait.` : "";
    return `Kessel does not answer: is it still running? The page goes on as soon as it does.${edits}`;
  },
};

const state = () => window.Alpine.store("server");
const answers = () => fetch("/healthz", { cache: "no-store" }).then((answer) => answer.ok, () => false);

// Say that an answer was missed. Gives a promise of the server's next answer.
export function missed() {
  looking ??= look().finally(() => { looking = null; });
  return looking;
}

async function look() {
  for (let pause = FIRST; !(await answers()); pause = Math.min(2 * pause, LONGEST)) {
    state().away = true;
    await rest(pause);
  }
  if (!state().away) return;
  state().away = false;
  announce("answers");
}
