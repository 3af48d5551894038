import { expect, test } from '@playwright/test';
import { program, promised, turns, type Asked, type Told } from './window';
import type { Notice } from '../../ui/src/api/client';
import { Command, type Posted } from '../../ui/src/papers/editing/command';
import { Form } from '../../ui/src/papers/editing/form';

// The posting of what is shown, with a stand-in for the program: what is sent,
// when, and what becomes of answers that come late, wrong or not at all.

interface Body {
  net: string;
}

const notice = (text: string): Notice => ({ field: 'net', text, rule: 'r', limit: '' });
const effect = (of: string, more: object = {}) => ({ effect: { token: `of ${of}`, refusals: [], warnings: [], entries: [], ...more } });

/** A command on a form, with what came of it. */
function writing(net = '1') {
  const form = new Form<Body>({ net });
  const posted: Posted[] = [];
  const refused: string[] = [];
  const command = new Command<Body>({
    form,
    path: '/api/v1/invoices',
    body: (b) => (b.net ? b : null),
    done: (p) => posted.push(p),
    refused: (all) => refused.push(...all.map((r) => r.text)),
  });
  return { form, command, posted, refused };
}

const previewed = (a: Asked) => a.query.get('preview') === 'true';
const posts = (all: Asked[]) => all.filter((a) => !previewed(a));
const shows = (a: Asked): Told => ({ body: effect(String(a.body.net)) });
const makes: Told = { body: { posted: { paper: 1, number: 'I-1' } } };

test('what is posted is what was typed last, with the token of its own Effect', async () => {
  const slow = promised<void>();
  const all = program(async (a) => {
    if (!previewed(a)) return makes;
    if (a.body.net === '12') await slow.promise;
    return shows(a);
  });
  const { form, command, posted } = writing();
  const end = command.open();
  form.set('net', '12');
  form.set('net', '123');
  const done = command.act();
  slow.keep();
  await done;
  expect(posted).toHaveLength(1);
  expect(posts(all).map((a) => [a.body.net, a.query.get('token')])).toEqual([['123', 'of 123']]);
  expect(posts(all)[0]!.header.get('Idempotency-Key')).toMatch(/^[0-9a-f-]{36}$/);
  end();
});

test('what is typed while a post waits is waited for as well', async () => {
  const all = program((a) => (previewed(a) ? shows(a) : makes));
  const { form, command, posted } = writing();
  const end = command.open();
  const understood = promised<void>();
  form.wait('net', understood.promise.then(() => form.set('net', '86.40')));
  const done = command.act();
  await turns();
  expect(posts(all)).toHaveLength(0);
  understood.keep();
  await done;
  expect(posts(all).map((a) => a.body.net)).toEqual(['86.40']);
  expect(posted).toHaveLength(1);
  end();
});

test('a field that means nothing is not posted over', async () => {
  const all = program((a) => (previewed(a) ? shows(a) : makes));
  const { form, command, refused } = writing();
  const end = command.open();
  form.unclear.set('day', '“the day of never” is no date.');
  await command.act();
  expect(refused).toEqual(['“the day of never” is no date.']);
  expect(posts(all)).toHaveLength(0);
  form.unclear.clear();
  await command.act();
  expect(posts(all)).toHaveLength(1);
  end();
});

test('an Effect that is another by now is shown, and nothing is posted until it was seen', async () => {
  let moved = true;
  const all = program((a) => {
    if (previewed(a)) return shows(a);
    if (!moved) return makes;
    moved = false;
    return { status: 409, body: { type: 'another effect', detail: 'It would post something else now.', ...effect('now') } };
  });
  const { command, posted } = writing();
  const end = command.open();
  await command.act();
  expect([posted.length, command.told, command.effect!.token]).toEqual([0, 'It would post something else now.', 'of now']);
  await command.act();
  expect(posted).toHaveLength(1);
  expect(posts(all).map((a) => a.query.get('token'))).toEqual(['of 1', 'of now']);
  expect(posts(all)[0]!.header.get('Idempotency-Key')).not.toBe(posts(all)[1]!.header.get('Idempotency-Key'));
  end();
});

test('an answer that is lost is asked for again by the same key, also after the window looked away', async () => {
  let lost = true;
  const all = program((a) => {
    if (previewed(a)) return shows(a);
    if (!lost) return makes;
    lost = false;
    throw new TypeError('the line is dead');
  });
  const { command, posted } = writing();
  const end = command.open();
  await command.act();
  expect(posted).toHaveLength(0);
  expect(command.told).toContain('does not answer');
  await command.act();
  expect(posted).toHaveLength(1);
  const [first, second] = posts(all);
  expect(second!.header.get('Idempotency-Key')).toBe(first!.header.get('Idempotency-Key'));
  expect(second!.query.get('token')).toBe(first!.query.get('token'));
  end();
});

test('what was changed after a lost answer is another post, with a key of its own', async () => {
  let lost = true;
  const all = program((a) => {
    if (previewed(a)) return shows(a);
    if (!lost) return makes;
    lost = false;
    return { status: 503 };
  });
  const { form, command } = writing();
  const end = command.open();
  await command.act();
  form.set('net', '2');
  await command.act();
  const [first, second] = posts(all);
  expect([first!.body.net, second!.body.net]).toEqual(['1', '2']);
  expect(second!.header.get('Idempotency-Key')).not.toBe(first!.header.get('Idempotency-Key'));
  end();
});

test('warnings are said once, and posted over by the next press; new ones are said again', async () => {
  let warning = 'It is dated in the future.';
  const all = program((a) => (previewed(a) ? { body: effect(`${a.body.net} ${warning}`, { warnings: [notice(warning)] }) } : makes));
  const { form, command, posted } = writing();
  const end = command.open();
  await command.act();
  expect([command.told, command.confirming, posts(all).length]).toEqual(['It is dated in the future.', true, 0]);
  warning = 'Paid twice?';
  form.set('net', '2');
  expect(command.confirming).toBe(false);
  await command.act();
  expect([command.told, posts(all).length]).toEqual(['Paid twice?', 0]);
  await command.act();
  expect(posted).toHaveLength(1);
  expect(posts(all)[0]!.query.get('token')).toBe('of 2 Paid twice?');
  end();
});

test('a refusal keeps what was typed, goes to its field, and is gone once that changes', async () => {
  const all = program((a) => (previewed(a) ? { body: effect(String(a.body.net), { refusals: a.body.net === '9' ? [notice('Only 8.00 is left.')] : [] }) } : makes));
  const { form, command, refused, posted } = writing('9');
  const end = command.open();
  await command.act();
  expect([refused, posts(all).length, form.body.net, command.strict]).toEqual([['Only 8.00 is left.'], 0, '9', true]);
  form.set('net', '8');
  expect(command.refusals).toEqual([]);
  await command.act();
  expect(posted).toHaveLength(1);
  end();
});

test('a second word is asked for before it is sent, and goes with the post', async () => {
  const all = program((a) => (previewed(a) ? { body: effect('1', { word: notice('Past 50.00 a second person says so.') }) } : makes));
  const { command, refused, posted } = writing();
  const end = command.open();
  await command.act();
  expect([refused, posts(all).length]).toEqual([['Past 50.00 a second person says so.'], 0]);
  command.word = 'Štěpán & co';
  await command.act();
  expect(posted).toHaveLength(1);
  expect(decodeURIComponent(posts(all)[0]!.header.get('Second-Word')!)).toBe('Štěpán & co');
  end();
});

test('two presses at once post once', async () => {
  const slow = promised<void>();
  const all = program(async (a) => {
    if (previewed(a)) return shows(a);
    await slow.promise;
    return makes;
  });
  const { command, posted } = writing();
  const end = command.open();
  const both = [command.act(), command.act()];
  await expect.poll(() => command.sending).toBe(true);
  void command.act();
  slow.keep();
  await Promise.all(both);
  expect([posted.length, posts(all).length]).toEqual([1, 1]);
  end();
});

test('while there is nothing to send, nothing is shown and nothing is posted', async () => {
  const all = program((a) => (previewed(a) ? shows(a) : makes));
  const { form, command, posted } = writing('');
  const end = command.open();
  await command.act();
  form.set('net', '5');
  await expect.poll(() => command.effect?.token).toBe('of 5');
  form.set('net', '');
  expect(command.effect).toBeUndefined();
  await command.act();
  expect([posted.length, posts(all).length]).toEqual([0, 0]);
  end();
});

test('a preview that fails is said, tried again by itself, and never posted over', async () => {
  let away = true;
  const all = program((a) => {
    if (!previewed(a)) return makes;
    return away ? { status: 500, body: { detail: 'Something failed here.' } } : shows(a);
  });
  const { command, posted } = writing();
  const end = command.open();
  await expect.poll(() => command.error).toBe('Something failed here.');
  await command.act();
  expect([posted.length, posts(all).length, command.told]).toEqual([0, 0, 'Not posted: Something failed here.']);
  away = false;
  await expect.poll(() => command.effect?.token).toBe('of 1');
  expect(command.error).toBe('');
  await command.act();
  expect(posted).toHaveLength(1);
  end();
});

test('of many keys in a row only the last is worked out to the end, and an older answer never takes its place', async () => {
  const held: ReturnType<typeof promised<void>>[] = [];
  const all = program(async (a) => {
    const mine = promised<void>();
    held.push(mine);
    await mine.promise;
    return shows(a);
  });
  const { form, command } = writing('1');
  const end = command.open();
  for (const net of ['12', '123', '1234']) form.set('net', net);
  await expect.poll(() => all.length).toBe(2); // the first, and after its patience the last
  expect(all.map((a) => a.body.net)).toEqual(['1', '1234']);
  held[1]!.keep();
  await expect.poll(() => command.effect?.token).toBe('of 1234');
  held[0]!.keep();
  await turns();
  expect([command.effect?.token, command.fresh]).toEqual(['of 1234', true]);
  end();
});
