import { chromium } from '@playwright/test';
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', chromiumSandbox: false });
const night = process.argv.includes('--night');
const p = await b.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: night ? 'dark' : 'light' });
const args = process.argv.slice(2).filter((a) => a !== '--night');
for (let i = 0; i + 1 < args.length; i += 2) {
  await p.goto('http://127.0.0.1:4300' + args[i]);
  await p.waitForLoadState('networkidle').catch(() => {});
  await p.waitForTimeout(2500);
  await p.screenshot({ path: `/tmp/shots/${args[i + 1]}.png` });
}
await b.close();
