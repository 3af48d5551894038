import { expect, test } from '@playwright/test';
import { chance, program, promised, turns, type Asked, type Told } from './window';
import { Draft, keptOf } from '../../ui/src/papers/editing/draft';
import { Form } from '../../ui/src/papers/editing/form';

// What is written saves itself: with a stand-in for the program that is slow,
// away, or has another version by now.

interface Body {
  text: string;
}

/** A program that keeps drafts: it answers with versions, and refuses an old one. */
function keeping() {
  const there = { id: 0, version: 0, body: {} as Record<string, unknown>, away: false, slow: undefined as Promise<void> | undefined };
  const all = program(async (a: Asked): Promise<Told> => {
    if (there.slow) await there.slow;
    if (there.away) throw new TypeError('the line is dead');
    const etag = () => `"${there.version}"`;
    if (a.method === 'DELETE') {
      there.id = 0;
      return { status: 204 };
    }
    if (a.method === 'GET') return { body: {}, etag: etag() };
    if (a.method === 'POST') there.id++;
    else if (a.header.get('If-Match') !== etag()) return { status: 412, body: { detail: 'Another window saved it.' } };
    there.version++;
    there.body = a.body.body as Record<string, unknown>;
    return { body: { id: there.id }, etag: etag() };
  });
  return { there, all };
}

function writing(step = 'a') {
  localStorage.clear();
  sessionStorage.clear();
  window.history.replaceState({ step }, '');
  const form = new Form<Body>({ text: '' });
  const draft = new Draft(form, 'invoice', 0, '', step, () => {});
  return { form, draft, end: draft.open() };
}

test('what is typed is saved by itself, once it rests, and has an address from then on', async () => {
  const { there, all } = keeping();
  const { form, draft, end } = writing();
  for (const text of ['s', 'st', 'sta', 'stair']) form.set('text', text);
  await expect.poll(() => draft.told).toBe('saved');
  expect(all.map((a) => [a.method, a.body.body])).toEqual([['POST', { text: 'stair' }]]);
  expect([draft.id, there.body, window.location.pathname]).toEqual([1, { text: 'stair' }, '/papers/drafts/1']);
  expect([keptOf(0, 'a'), keptOf(1, 'a')]).toEqual([null, null]); // nothing is left lying in the browser
  form.set('text', 'stairs');
  expect(draft.told).toBe('saving'); // at once: what is not there yet is never called saved
  await expect.poll(() => there.body.text).toBe('stairs');
  expect(all.map((a) => a.method)).toEqual(['POST', 'PUT']);
  await expect.poll(() => draft.told).toBe('saved');
  const understood = promised<void>();
  form.wait('price', understood.promise);
  expect(draft.told).toBe('saving');
  understood.keep();
  await expect.poll(() => draft.told).toBe('saved');
  end();
});

test('what is typed while it is being saved is saved after it, and one draft is begun, not two', async () => {
  const { there, all } = keeping();
  const slow = promised<void>();
  there.slow = slow.promise;
  const { form, draft, end } = writing();
  form.set('text', 'first');
  await expect.poll(() => all.length).toBe(1);
  form.set('text', 'second');
  expect(draft.beginning()).toBeDefined();
  there.slow = undefined;
  slow.keep();
  await expect.poll(() => there.body.text).toBe('second');
  expect(all.map((a) => [a.method, a.header.get('If-Match')])).toEqual([
    ['POST', null],
    ['PUT', '"1"'],
  ]);
  end();
});

test('while the program is away it lies in the browser, and is saved when that answers again', async () => {
  const { there } = keeping();
  const { form, draft, end } = writing();
  there.away = true;
  form.set('text', 'typed on the train');
  await expect.poll(() => draft.told).toBe('not saved yet, kept in this browser');
  expect(keptOf(0, 'a')?.body).toEqual({ text: 'typed on the train' });
  form.set('text', 'typed on the train, and more');
  expect(keptOf(0, 'a')?.body).toEqual({ text: 'typed on the train, and more' });
  there.away = false;
  await expect.poll(() => there.body.text).toBe('typed on the train, and more');
  await expect.poll(() => keptOf(0, 'a')).toBeNull();
  end();
});

test('what another window saved is not written over unless one says so', async () => {
  const { there, all } = keeping();
  const { form, draft, end } = writing();
  form.set('text', 'mine');
  await expect.poll(() => draft.told).toBe('saved');
  there.version = 7; // another window was here
  there.body = { text: 'theirs' };
  form.set('text', 'mine, longer');
  await expect.poll(() => draft.trouble?.status).toBe(412);
  const asked = all.length;
  form.set('text', 'mine, longer still');
  expect(keptOf(1, 'a')?.body).toEqual({ text: 'mine, longer still' });
  expect([there.body.text, all.length]).toEqual(['theirs', asked]); // it asks no more by itself
  await draft.keepMine();
  expect([there.body.text, draft.trouble]).toEqual(['mine, longer still', null]);
  end();
});

test('leaving saves what was typed a moment before', async () => {
  const { there } = keeping();
  const { form, draft, end } = writing();
  form.set('text', 'and gone');
  end();
  await draft.settle();
  expect(there.body).toEqual({ text: 'and gone' });
});

test('what is posted or thrown away is saved no more, and leaves nothing behind', async () => {
  const { there, all } = keeping();
  const { form, draft, end } = writing();
  form.set('text', 'x');
  await draft.begun();
  await draft.discard();
  form.set('text', 'typed after it was thrown away');
  end();
  await draft.settle();
  expect([there.id, all.map((a) => a.method)]).toEqual([0, ['POST', 'DELETE']]);
  expect([keptOf(0, 'a'), keptOf(1, 'a')]).toEqual([null, null]);
});

test('a draft that cannot be thrown away stays, and goes on being saved', async () => {
  const { there } = keeping();
  const { form, draft, end } = writing();
  form.set('text', 'x');
  await draft.begun();
  there.away = true;
  await expect(draft.discard()).rejects.toThrow('does not answer');
  there.away = false;
  form.set('text', 'still here');
  await expect.poll(() => there.body.text).toBe('still here');
  end();
});

test('something can be attached before a key was typed: the draft is begun for it', async () => {
  const { there } = keeping();
  const { draft, end } = writing();
  expect(await draft.begun()).toBe(1);
  expect(await draft.begun()).toBe(1);
  expect(there.version).toBe(1);
  there.away = true;
  end();
  const other = writing('b');
  await expect(other.draft.begun()).rejects.toThrow('not saved yet');
  other.draft.close(); // it would go on trying
  other.end();
});

test('whatever is typed, and however often the program is away, the last key is there in the end', async () => {
  for (let seed = 1; seed <= 4; seed++) {
    const { there } = keeping();
    const next = chance(seed);
    const { form, draft, end } = writing(`step ${seed}`);
    let text = '';
    for (let n = 0; n < 12; n++) {
      there.away = next(3) === 0;
      text += String.fromCharCode(97 + next(26));
      form.set('text', text);
      if (next(3) === 0) void draft.begun().catch(() => {});
      await turns(next(30));
      const kept = keptOf(draft.id, `step ${seed}`)?.body ?? there.body;
      expect(kept, `seed ${seed}, key ${n}`).toEqual({ text }); // in the browser, or with the program
    }
    there.away = false;
    await expect.poll(() => there.body.text, `seed ${seed}`).toBe(text);
    end();
  }
});
