// Draws the demo's figures from invented data, as SVG rendered to PNG by Chromium.
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const here = dirname(fileURLToPath(import.meta.url));
const { chromium } = createRequire(join(here, '../tests/browser/package.json'))('playwright-core');
let seed = 11;
const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
const noise = () => random() + random() + random() - 1.5;

function plot({ xMax, yMax, xStep, yStep, xLabel, yLabel, marks }) {
  const [w, h, l, b, t, r] = [900, 560, 90, 80, 20, 25];
  const x = (v) => l + (v / xMax) * (w - l - r);
  const y = (v) => h - b - (v / yMax) * (h - b - t);
  let s = `<svg xmlns="http://www.w3.org/2000/svg" width="${w}" height="${h}" font-family="Figtree, sans-serif" font-size="22" fill="#1f2a37"><rect width="${w}" height="${h}" fill="#fff"/>`;
  for (let v = 0; v <= xMax + 1e-9; v += xStep) s += `<path d="M${x(v)} ${h - b}v9" stroke="#1f2a37"/><text x="${x(v)}" y="${h - b + 34}" text-anchor="middle">${v}</text>`;
  for (let v = 0; v <= yMax + 1e-9; v += yStep) s += `<path d="M${l} ${y(v)}h-9" stroke="#1f2a37"/><path d="M${l} ${y(v)}H${w - r}" stroke="#e6e0d2"/><text x="${l - 16}" y="${y(v) + 8}" text-anchor="end">${v}</text>`;
  s += marks(x, y) + `<path d="M${l} ${t}V${h - b}H${w - r}" fill="none" stroke="#1f2a37" stroke-width="2"/>`;
  s += `<text x="${(l + w - r) / 2}" y="${h - 14}" text-anchor="middle">${xLabel}</text><text transform="translate(26 ${(h - b + t) / 2}) rotate(-90)" text-anchor="middle">${yLabel}</text></svg>`;
  return s;
}

const growth = (t) => 34 * (1 - Math.exp(-t / 38)) + 0.21 * t;
const curve = (f, x, y, to) => 'M' + Array.from({ length: 101 }, (_, i) => `${x((i * to) / 100)} ${y(f((i * to) / 100))}`).join('L');
const figures = {
  'thesis/figures/growth.png': plot({ xMax: 250, yMax: 100, xStep: 50, yStep: 20, xLabel: 'Age of the wall (years)', yLabel: 'Thallus diameter (mm)', marks: (x, y) =>
    Array.from({ length: 38 }, () => { const t = 12 + random() * 230; return `<circle cx="${x(t)}" cy="${y(growth(t) + noise() * 7)}" r="6" fill="#34567a" fill-opacity=".75"/>`; }).join('') +
    `<path d="${curve(growth, x, y, 250)}" fill="none" stroke="#b8382b" stroke-width="4"/>` }),
  'thesis/figures/quadrats.png': plot({ xMax: 12, yMax: 20, xStep: 2, yStep: 5, xLabel: 'Quadrats scored on a length of wall', yLabel: 'Error of the date (years)', marks: (x, y) =>
    Array.from({ length: 11 }, (_, i) => { const e = 17 / Math.sqrt(i + 1) + noise(); return `<rect x="${x(i + 1) - 22}" y="${y(e)}" width="44" height="${y(0) - y(e)}" fill="#4f7350"/>`; }).join('') }),
  'thesis/figures/aspects.png': plot({ xMax: 8, yMax: 100, xStep: 1, yStep: 20, xLabel: 'Aspect, from north (0) round to north (8)', yLabel: 'Thallus diameter (mm)', marks: (x, y) =>
    `<path d="${curve((a) => 52 + 24 * Math.sin((a / 8) * 2 * Math.PI - Math.PI / 2), x, y, 8)}" fill="none" stroke="#6d4a7e" stroke-width="4"/>` +
    Array.from({ length: 60 }, () => { const a = random() * 8; return `<circle cx="${x(a)}" cy="${y(52 + 24 * Math.sin((a / 8) * 2 * Math.PI - Math.PI / 2) + noise() * 9)}" r="5" fill="#8f6008" fill-opacity=".7"/>`; }).join('') }),
};
figures['article/figures/shade.png'] = figures['thesis/figures/aspects.png'];

const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'] });
const page = await browser.newPage({ viewport: { width: 900, height: 560 }, deviceScaleFactor: 2 });
for (const [path, svg] of Object.entries(figures)) {
  await page.setContent(`<style>body{margin:0}</style>${svg}`);
  await page.screenshot({ path: join(here, path) });
}
await browser.close();
