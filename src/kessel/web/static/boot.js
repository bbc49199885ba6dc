// Starts what the page needs.
import { startKeeping } from "./keeping.js";
import { startControls } from "./controls.js";
import { startWorkspace } from "./workspace.js";
import { Player } from "./player.js";
import { startKeys } from "./keys.js";
import { startPanels } from "./panels.js";
import { startHands } from "./hands.js";
import { startPhrase } from "./phrase.js";
import { startWave } from "./wave.js";
import { startMovement } from "./movement.js";
import { startShaping } from "./shaping.js";
import { startChecks } from "./checks.js";
import { startVersions } from "./versions.js";
import { startImports } from "./importing.js";

startKeeping();
startImports();
if (document.body.dataset.slug) {
  const player = new Player(document.body.dataset.slug);
  startControls(player);
  startWorkspace(player);
  startPanels(player);
  startHands(player);
  startPhrase(player);
  startWave(player);
  startMovement(player);
  startShaping(player);
  startChecks(player);
  startKeys(player);
  startVersions();
  window.kessel = { player };
}
