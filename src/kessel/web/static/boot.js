// Starts what the page needs.
import { startControls } from "./controls.js";
import { startWorkspace } from "./workspace.js";
import { Player } from "./player.js";
import { startKeys } from "./keys.js";

if (document.body.dataset.slug) {
  const player = new Player(document.body.dataset.slug);
  startControls(player);
  startWorkspace(player);
  startKeys(player);
  window.kessel = { player };
}
