import assert from "node:assert/strict";
import test from "node:test";

import { History } from "../../ridgeback/static/js/layout/history.js";
import { freeId, label, numbered } from "../../ridgeback/static/js/layout/names.js";
import { Questions } from "../../ridgeback/static/js/layout/questions.js";
import { inAir, placeOn, typedLength, wordsAt } from "../../ridgeback/static/js/layout/readout.js";

test("what was undone can be done again, until something new is done", () => {
  const history = new History();
  assert.equal(history.undo("a"), null);
  history.remember("a");
  history.remember("b");
  assert.equal(history.undo("c"), "b");
  assert.equal(history.undo("b"), "a");
  assert.equal(history.redo("a"), "b");
  history.remember("b");
  assert.equal(history.redo("d"), null);
});

test("items are named by the catalogue, with their power, numbered where two are alike", () => {
  const catalogue = [
    { items: [{ label: "Halogen flood", item: { kind: "halogen_flood" } }] },
    { items: [{ label: "Hide", item: { kind: "hide" } }] },
  ];
  assert.equal(label({ kind: "halogen_flood", power_w: 75 }, catalogue), "Halogen flood, 75 W");
  assert.equal(label({ kind: "hide", size_m: [1, 1, 1] }, catalogue), "Hide");
  assert.equal(label({ kind: "stump" }, catalogue), "stump");
  assert.deepEqual(numbered(["Hide", "Dish", "Hide"]), ["Hide 1", "Dish", "Hide 2"]);
  assert.equal(freeId("hide", [{ id: "hide-1" }, { id: "hide-3" }]), "hide-2");
});

const sheet = { left: 100, floor: 500, front: 900, scale: 400 };
const field = {
  length: 1,
  height: 0.5,
  depth: 0.5,
  substrate: 0.1,
  unit: "°C",
  air: [[20, 30], [20, 30]],
  uvi: [[0, 2], [0, 2]],
  lux: [],
  damp: [],
};

test("a point of the paper is a place of the enclosure", () => {
  assert.deepEqual(placeOn(sheet, { x: 300, y: 380 }), { x: 0.5, z: 0.3, y: 1.3 });
  assert.equal(inAir(field, { x: 0.5, z: 0.3 }), true);
  assert.equal(inAir(field, { x: 0.5, z: 0.05 }), false);
  assert.equal(inAir(field, { x: -0.1, z: 0.3 }), false);
});

test("a place in the air is said with its values, one seen from above with its distances", () => {
  const words = "50 cm from the left, 30 cm up: air 25.0 °C, UVI 1.0";
  assert.equal(wordsAt(field, { x: 0.5, y: 1.3, z: 0.3 }, false), words);
  const bright = { ...field, lux: [[0, 1000], [0, 1000]], damp: [[60, 40], [60, 40]] };
  const more = `${words}, 500 lx, humidity 50 %`;
  assert.equal(wordsAt(bright, { x: 0.5, y: 1.3, z: 0.3 }, false), more);
  const above = "50 cm from the left, 25 cm from the front";
  assert.equal(wordsAt(field, { x: 0.5, y: 0.25, z: -0.7 }, false), above);
  assert.equal(wordsAt(field, { x: 2, y: 0.25, z: 0.3 }, false), "");
  assert.equal(wordsAt(field, { x: 0.5, y: 3, z: -2 }, false), "");
  assert.equal(typedLength(0.254, true), "10.0 in");
});

/* A server that answers when it is told to. */
function server() {
  const waiting = [];
  const painted = [];
  let settled = 0;
  let failed = 0;
  const questions = new Questions({
    ask: () => new Promise((answer, refuse) => waiting.push({ answer, refuse })),
    answered: (text) => painted.push(text),
    failed: () => (failed += 1),
    settled: () => (settled += 1),
  });
  const turn = () => new Promise((done) => setImmediate(done));
  return { questions, waiting, painted, turn, told: () => ({ settled, failed }) };
}

test("at most one question is under way, and the newest state is asked next", async () => {
  const { questions, waiting, painted, turn, told } = server();
  questions.next();
  questions.next();
  questions.next();
  assert.equal(waiting.length, 1);
  assert.equal(questions.underWay, true);
  waiting[0].answer("first");
  await turn();
  assert.equal(waiting.length, 2, "what was wanted meanwhile is asked once");
  waiting[1].answer("second");
  await turn();
  assert.deepEqual(painted, ["first", "second"]);
  assert.deepEqual(told(), { settled: 1, failed: 0 });
  assert.equal(questions.underWay, false);
});

test("a question without an answer is said, and the next one is asked", async () => {
  const { questions, waiting, painted, turn, told } = server();
  questions.next();
  waiting[0].refuse(new Error("no network"));
  await turn();
  assert.deepEqual(told(), { settled: 1, failed: 1 });
  questions.next();
  waiting[1].answer("again");
  await turn();
  assert.deepEqual(painted, ["again"]);
});
