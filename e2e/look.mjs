import { chromium } from '@playwright/test';
import { spawn } from 'node:child_process';
import { readFileSync, existsSync } from 'node:fs';
// usage: node look.mjs out path [theme] [steps.js]
const [out, path, theme = 'light', steps] = process.argv.slice(2);
const port = process.env.PORT ?? '8461';
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] });
const ctx = await b.newContext({ viewport: { width: 1280, height: 800 }, colorScheme: theme, baseURL: `http://127.0.0.1:${port}` });
const api = ctx.request;
await api.post('/api/v1/session', { data: { email: 'office@sparrow-winder.example', password: 'winding stairs' } });
const page = await ctx.newPage();
page.on('pageerror', (e) => console.log('ERR', e.message));
page.on('console', (m) => m.type() === 'error' && console.log('CONSOLE', m.text()));
let where = path;
if (path.startsWith('find:')) {
  const r = await (await api.get('/api/v1/' + path.slice(5))).json();
  where = process.env.AT.replace('{id}', (r.rows ?? r)[0].id);
}
await page.goto(where);
await page.waitForLoadState('networkidle');
if (steps && existsSync(steps)) await eval(`(async () => {${readFileSync(steps, 'utf8')}})()`);
await page.waitForTimeout(500);
await page.screenshot({ path: out });
await b.close();
