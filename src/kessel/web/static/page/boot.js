// Gives Alpine what the pages are made of, and starts what listens.
import { askedStore, asksBy, leads, startAsked } from "./asked.js";
import { startChecks, stretch } from "./checks.js";
import { clockStore, startClock } from "./clock.js";
import { drawnCurve, startCurves, touch } from "./curve.js";
import { pressing } from "./drag.js";
import { startEdits } from "./edits.js";
import { finder, openFinder, startFinder } from "./finder.js";
import { handsStore, piano } from "./hands.js";
import { importStore, startImports } from "./imports.js";
import { keyboard } from "./keys.js";
import { acts, drop, oneOf } from "./lists.js";
import { controlMenu, movable } from "./menus.js";
import { moment } from "./moment.js";
import { newsStore, startNews } from "./news.js";
import { lane, noteField, noteGrid, noteTools, pointField, startNotes } from "./notes.js";
import { notice, noticeStore } from "./notice.js";
import { grip, pad } from "./pad.js";
import { learnStore, startLearning } from "./learn.js";
import { historyStore, layersStore, panelsStore, points, sortedChip, sortedLayer, startPanels } from "./panels.js";
import { playerStore, startPlayer } from "./player.js";
import { handle, rule, startRules } from "./rule.js";
import { startScope } from "./scope.js";
import { serverStore } from "./server.js";
import * as stream from "./stream.js";
import { startSwaps } from "./swaps.js";
import { choice, helping, pick, startValues, value } from "./values.js";
import { waveBars, waveCycle, waveTools } from "./wave.js";

const STORES = {
  asked: askedStore,
  clock: clockStore,
  curve: { touch },
  hands: handsStore,
  history: historyStore,
  imports: importStore,
  layers: layersStore,
  learn: learnStore,
  news: newsStore,
  notes: noteTools,
  notice: noticeStore,
  panels: Object.assign(panelsStore, { find: openFinder }),
  player: playerStore,
  server: serverStore,
  wave: waveTools,
};
const COMPONENTS = { controlMenu, finder, moment, notice, piano };
const WAYS = {
  acts, asksBy, choice, drawnCurve, drop, grip, handle: () => ({ ...handle(), ...movable() }), lane, leads, movable,
  noteField, noteGrid, oneOf, pad, pick, pointField, points, pressing, rule, sortedChip, sortedLayer, stretch, value,
  waveBars, waveCycle,
  workspace: () => ({ ...pressing(), ...helping(), ...keyboard() }),
};

document.addEventListener("alpine:init", () => {
  const { Alpine } = window;
  for (const [name, store] of Object.entries(STORES)) Alpine.store(name, store);
  for (const [name, component] of Object.entries(COMPONENTS)) Alpine.data(name, component);
  for (const [name, way] of Object.entries(WAYS)) Alpine.bind(name, way);
});
document.addEventListener("alpine:initialized", () => {
  startEdits();
  startImports();
  startLearning();
  if (!document.body.dataset.slug) return;
  for (const begin of [startPlayer, startAsked, startValues, startRules, startPanels, startSwaps, startCurves, startNotes, startChecks, startScope, startNews, startClock, startFinder]) begin();
  window.kessel = { stream, player: window.Alpine.store("player") };
});
