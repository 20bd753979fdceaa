// Marks on their way: in order, one at a time, and none lost by an answer that is no answer.
import assert from "node:assert/strict";
import test from "node:test";

const kept = new Map();
globalThis.localStorage = {
  getItem: (key) => kept.get(key) ?? null,
  setItem: (key, value) => kept.set(key, value),
  removeItem: (key) => kept.delete(key),
};
globalThis.window = { addEventListener: () => {} };
// Tries that come later are not what is tested here.
const later = globalThis.setTimeout;
globalThis.setTimeout = (...of) => later(...of).unref();
const { Outbox } = await import("../../src/norvik/web/static/js/outbox.js");

/** A server that gives these answers in turn; a null is a connection that breaks. */
function server(...answers) {
  const asked = [];
  globalThis.fetch = async (url, { body }) => {
    asked.push([url, Object.fromEntries(body)]);
    const status = answers.length ? answers.shift() : 200;
    if (status === null) throw new TypeError("no connection");
    return {
      ok: status < 400,
      status,
      headers: { get: () => null },
      text: async () => "done",
      redirected: false,
    };
  };
  return asked;
}

const silent = { received: () => {}, told: () => {}, also: () => ({}) };

test("steps go out in the order in which they were made", async () => {
  const asked = server();
  const outbox = new Outbox("order", "token", silent);
  await Promise.all([outbox.send("/a", { n: 1 }), outbox.send("/b", { n: 2 })]);
  await outbox.pump();
  assert.deepEqual(
    asked.map(([url]) => url),
    ["/a", "/b"],
  );
  assert.equal(outbox.items.length, 0);
});

for (const failure of [null, 500, 502, 503]) {
  test(`a step stays when the answer is ${failure ?? "no connection"}`, async () => {
    server(failure);
    const outbox = new Outbox(`kept-${failure}`, "token", silent);
    await outbox.send("/a", { n: 1 });
    assert.equal(outbox.items.length, 1);
    const again = new Outbox(`kept-${failure}`, "token", silent);
    assert.deepEqual(again.items, [{ url: "/a", values: { n: 1 } }]);
  });
}

test("a refusal is an answer: the step is dropped and told", async () => {
  server(422);
  let fine;
  const outbox = new Outbox("refused", "token", { ...silent, received: (_html, ok) => (fine = ok) });
  await outbox.send("/a", {});
  assert.equal(outbox.items.length, 0);
  assert.equal(fine, false);
});

test("a step counts as under way until its answer is whole, and is not lost when that breaks off", async () => {
  server();
  const asked = globalThis.fetch;
  let whole;
  globalThis.fetch = async (url, options) => ({
    ...(await asked(url, options)),
    text: () => new Promise((resolve, reject) => (whole = { resolve, reject })),
  });
  const received = [];
  const told = [];
  const outbox = new Outbox("whole", "token", {
    ...silent,
    received: (html) => received.push(html),
    told: (sentence) => told.push(sentence),
  });
  const sent = outbox.send("/a", { n: 1 });
  await new Promise((resolve) => later(resolve, 5));
  assert.equal(outbox.items.length, 1);
  whole.resolve("done");
  await sent;
  assert.deepEqual([outbox.items.length, received], [0, ["done"]]);
  const broken = outbox.send("/b", { n: 2 });
  await new Promise((resolve) => later(resolve, 5));
  whole.reject(new TypeError("broken off"));
  await broken;
  assert.equal(outbox.items.length, 0);
  assert.match(told.at(-1), /reload the page/);
  // It goes on with the next one.
  assert.equal(outbox.busy, false);
});
