// A drag with the pointer, from its press on: capture, what counts as moved, fine steps, letting go, giving up. While a
// hand holds something or types, nothing under it is redrawn.
let held = 0;
let pressed = false;
const after = [];

export const holding = () => held > 0 || pressed || document.activeElement?.dataset?.dirty === "yes";

// Call act as soon as nothing is held.
export function whenFree(act) {
  if (holding()) after.push(act); else act();
}
export function letGo() {
  if (holding()) return;
  for (const act of after.splice(0)) act();
}

// Follow a pointer that was pressed on node. move: the event and whether it moved yet; drop: the last event, and whether
// it moved; cancel: the drag was given up. near: pixels that are no movement.
export function drag(event, node, { move, drop, cancel = () => {}, near = 1 }) {
  event.preventDefault();
  node.setPointerCapture(event.pointerId);
  held += 1;
  let moved = false;
  const { clientX, clientY, pointerId } = event;
  const follow = (now) => {
    if (now.pointerId !== pointerId) return;
    moved ||= Math.abs(now.clientX - clientX) > near || Math.abs(now.clientY - clientY) > near;
    move?.(now, moved);
  };
  const end = (now) => {
    if (now.pointerId !== pointerId) return;
    for (const [name, act] of [["pointermove", follow], ["pointerup", end], ["pointercancel", end]]) node.removeEventListener(name, act);
    held -= 1;
    if (now.type === "pointerup") drop?.(now, moved); else cancel();
    setTimeout(letGo);
  };
  for (const [name, act] of [["pointermove", follow], ["pointerup", end], ["pointercancel", end]]) node.addEventListener(name, act);
}

// A press anywhere: the click comes after the button is up.
export const pressing = () => ({
  "@pointerdown.window.capture"() { pressed = true; },
  "@pointerup.window.capture"() { setTimeout(() => { pressed = false; letGo(); }); },
  "@pointercancel.window.capture"() { setTimeout(() => { pressed = false; letGo(); }); },
});

// Things in a row or a stack that can be dragged to another place among their like. Gives the new place, or null.
// others: where they can be taken besides; brought: what to do with one of those.
export function sort(event, node, { like, over, done, others = () => [], brought }) {
  let to = null;
  let away = null;
  const things = () => like().map((thing) => ({ thing, on: over(thing) }));
  const clear = () => {
    document.body.classList.remove("dragging");
    for (const marked of document.querySelectorAll(".drop-here")) marked.classList.remove("drop-here");
  };
  drag(event, node, {
    near: 5,
    move(now, moved) {
      if (!moved) return;
      document.body.classList.add("dragging");
      to = null;
      away = null;
      const under = (box) => {
        const { left, right, top, bottom } = box.getBoundingClientRect();
        return now.clientX >= left && now.clientX < right && now.clientY >= top && now.clientY < bottom;
      };
      things().forEach(({ thing, on: box }, place) => {
        const here = under(box);
        box.classList.toggle("drop-here", here && thing !== node);
        if (here) to = place;
      });
      for (const other of others()) {
        other.classList.toggle("drop-here", under(other));
        if (under(other)) away = other;
      }
    },
    drop(now, moved) {
      clear();
      const from = like().indexOf(node);
      if (!moved) return;
      // the click that ends a drag chooses nothing
      const swallow = (click) => { click.stopPropagation(); click.preventDefault(); };
      window.addEventListener("click", swallow, { capture: true, once: true });
      setTimeout(() => window.removeEventListener("click", swallow, { capture: true }));
      if (to !== null && to !== from) done(to);
      else if (to === null && away) brought(away, now);
    },
    cancel: clear,
  });
}

