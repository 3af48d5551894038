import { expect, test } from '@playwright/test';
import { chance, promised, turns } from './window';
import { at, Form, put, same } from '../../ui/src/papers/editing/form';

// The body that is being written: what the editors of all papers stand on.

interface Body {
  text: string;
  lines: { net: string; what?: string; of?: { paper: number } }[];
}

const body = (): Body => ({ text: 'stair', lines: [{ net: '1' }, { net: '2', of: { paper: 7 } }] });

test('a path is followed as refusals write it', () => {
  expect(at(body(), 'lines[1].net')).toBe('2');
  expect(at(body(), 'lines[1].of.paper')).toBe(7);
  for (const nowhere of ['lines[5].net', 'lines[0].of.paper', 'nothing.at.all', 'text.length.more']) expect(at(body(), nowhere)).toBeUndefined();
  expect(at(body(), '')).toEqual(body());
});

test('what a change does not touch is shared, and the body before stays as it was', () => {
  const before = body();
  const after = put(before, 'lines[0].net', '9');
  expect(before).toEqual(body());
  expect(after).toEqual({ text: 'stair', lines: [{ net: '9' }, { net: '2', of: { paper: 7 } }] });
  expect(after.lines[1]).toBe(before.lines[1]);
  expect(after.lines).not.toBe(before.lines);
  expect(put(before, 'lines[2].net', '3').lines).toHaveLength(3);
  expect(put(before, 'lines[0].of.paper', 4).lines[0]).toEqual({ net: '1', of: { paper: 4 } });
});

test('bodies that say the same are the same, in whatever order', () => {
  expect(same({ a: 1, b: [1, { c: '' }] }, { b: [1, { c: '' }], a: 1 })).toBe(true);
  for (const other of [{ a: 1, b: [1, { c: 'x' }] }, { a: 1, b: [1] }, { a: 1 }, { a: 1, b: [1, { c: '' }], d: null }, null, 'a'])
    expect(same({ a: 1, b: [1, { c: '' }] }, other)).toBe(false);
  // What is left out says the same as what is told as nothing.
  expect(same({ a: 1, b: undefined }, { a: 1 })).toBe(true);
});

test('undo and redo go through any changes, step by step', () => {
  for (let seed = 1; seed <= 50; seed++) {
    const next = chance(seed);
    const form = new Form(body());
    const seen = [form.body];
    let here = 0;
    for (let n = 0; n < 60; n++) {
      const what = next(4);
      if (what < 2) {
        // Another field every time: each is a step of its own.
        if (what) form.set(`lines[${next(3)}].net`, `${seed}.${n}`);
        else form.change((now) => ({ text: now.text + n }));
        seen.splice(++here, seen.length, form.body);
        form.set('lines[0].what', n); // makes sure that the next is another field
        seen.splice(++here, seen.length, form.body);
      } else if (what === 2) {
        form.undo();
        here = Math.max(here - 1, 0);
      } else {
        form.redo();
        here = Math.min(here + 1, seen.length - 1);
      }
      expect(form.body, `seed ${seed}, step ${n}`).toBe(seen[here]);
    }
  }
});

test('what is typed into one field in a breath is one step of undo', () => {
  const form = new Form(body());
  const clock = Date.now;
  let now = 1_000_000;
  Date.now = () => now;
  try {
    for (const text of ['s', 'st', 'sta']) {
      now += 100;
      form.set('text', text);
    }
    now += 1000;
    form.set('text', 'stairs');
    form.set('lines[0].net', '5');
    form.undo();
    expect([form.body.text, form.body.lines[0]!.net]).toEqual(['stairs', '1']);
    form.undo();
    expect(form.body.text).toBe('sta');
    form.undo();
    expect(form.body.text).toBe('stair');
    form.undo(); // there is no more
    expect(form.body).toEqual(body());
    form.redo();
    form.set('text', 'steps'); // what was undone after this is gone
    form.redo();
    expect(form.body.text).toBe('steps');
  } finally {
    Date.now = clock;
  }
});

test('nothing is told where nothing was changed', () => {
  const form = new Form(body());
  let told = 0;
  const end = form.subscribe(() => told++);
  form.set('text', 'stair');
  expect([told, form.edits]).toEqual([0, 0]);
  form.set('text', 'stairs');
  form.undo();
  expect([told, form.edits]).toEqual([2, 2]); // undoing is a change too: it is saved
  end();
  form.set('text', 'x');
  expect(told).toBe(2);
});

test('what waits is waited for: also work that comes of work, and what a field takes only then', async () => {
  const form = new Form(body());
  const first = promised<void>();
  const second = promised<void>();
  form.finish(() => form.set('text', 'typed and not taken yet'));
  form.wait('lines[0].net', first.promise.then(() => form.wait('customer', second.promise)));
  expect(form.waits()).toBe(true);
  expect(form.waits('lines[0].net')).toBe(false); // nothing beside it
  let settled = false;
  const all = form.settled().then(() => (settled = true));
  expect(form.body.text).toBe('typed and not taken yet');
  first.keep();
  await turns();
  expect(settled).toBe(false);
  expect(form.waits('lines[0].net')).toBe(true);
  second.keep();
  await all;
  expect(form.waits()).toBe(false);
});

test('work that fails, or that newer work of its field has replaced, holds nobody', async () => {
  const form = new Form(body());
  form.wait('net', Promise.reject(new Error('the program is away')));
  await form.settled();
  expect(form.waits()).toBe(false);
  const old = promised<void>();
  const young = promised<void>();
  form.wait('net', old.promise);
  form.wait('net', young.promise);
  young.keep();
  await form.settled(); // though the old one is still on its way
  old.keep();
});
