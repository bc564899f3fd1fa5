// Draws the demo's figures from invented data, as SVG rendered to PNG by Chromium.
import { createRequire } from 'node:module';
import { writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { curve, growth, growthPlot, noiseOf, plot, randomNumbers } from './plot.mjs';

const here = dirname(fileURLToPath(import.meta.url));
const { chromium } = createRequire(join(here, '../tests/browser/package.json'))('playwright-core');
const random = randomNumbers(11);
const noise = noiseOf(random);

const walls = Array.from({ length: 38 }, () => {
  const age = 12 + random() * 230;
  return [age, growth(age) + noise() * 7];
});
const figures = {
  'thesis/figures/quadrats.png': plot({ xMax: 12, yMax: 20, xStep: 2, yStep: 5, xLabel: 'Quadrats scored on a length of wall', yLabel: 'Error of the date (years)', marks: (x, y) =>
    Array.from({ length: 11 }, (_, i) => { const e = 17 / Math.sqrt(i + 1) + noise(); return `<rect x="${x(i + 1) - 22}" y="${y(e)}" width="44" height="${y(0) - y(e)}" fill="#4f7350"/>`; }).join('') }),
  'thesis/figures/aspects.png': plot({ xMax: 8, yMax: 100, xStep: 1, yStep: 20, xLabel: 'Aspect, from north (0) round to north (8)', yLabel: 'Thallus diameter (mm)', marks: (x, y) =>
    `<path d="${curve((a) => 52 + 24 * Math.sin((a / 8) * 2 * Math.PI - Math.PI / 2), x, y, 8)}" fill="none" stroke="#6d4a7e" stroke-width="4"/>` +
    Array.from({ length: 60 }, () => { const a = random() * 8; return `<circle cx="${x(a)}" cy="${y(52 + 24 * Math.sin((a / 8) * 2 * Math.PI - Math.PI / 2) + noise() * 9)}" r="5" fill="#8f6008" fill-opacity=".7"/>`; }).join('') }),
};

// A wall in section: two faces of courses, hearting between, throughs, a footing and the cope.
function section() {
  const stone = (x, y, w, h) => `<rect x="${x}" y="${y}" width="${w}" height="${h}" rx="4" fill="url(#stone)" stroke="#55606e"/>`;
  let s = '<svg xmlns="http://www.w3.org/2000/svg" width="420" height="400" font-family="sans-serif" font-size="15" fill="#1f2a37">'
    + '<defs><linearGradient id="stone" x2="0" y2="1"><stop offset="0" stop-color="#c9c3b4"/><stop offset="1" stop-color="#9a9488"/></linearGradient>'
    + '<radialGradient id="fill"><stop offset="0" stop-color="#e6e0d2"/><stop offset="1" stop-color="#b9b2a2"/></radialGradient></defs>'
    + '<path d="M0 360H420" stroke="#4f7350" stroke-width="3"/>';
  for (let i = 0; i < 60; i++) { const t = random(); s += `<circle cx="${150 + (random() - 0.5) * (70 - 30 * t)}" cy="${350 - t * 260}" r="${5 + random() * 5}" fill="url(#fill)" stroke="#767d87" stroke-width=".5"/>`; }
  for (let row = 0; row < 9; row++) {
    const y = 330 - row * 30, lean = row * 4.5, w = 40 + random() * 8;
    if (row === 4) s += stone(70 + lean, y, 160 - 2 * lean, 27);
    else s += stone(70 + lean, y, w, 27) + stone(230 - lean - w, y, w, 27);
  }
  s += stone(58, 360, 184, 26);
  for (let i = 0; i < 4; i++) s += `<path d="M${112 + i * 20} 88l4-${34 + random() * 8}h12l4 ${36}z" fill="url(#stone)" stroke="#55606e"/>`;
  const label = (text, x, y, tx, ty) => `<path d="M${x} ${y}L${tx - 6} ${ty - 5}" stroke="#b8382b"/><text x="${tx}" y="${ty}">${text}</text>`;
  return s + label('cope', 190, 70, 280, 70) + label('through', 205, 222, 280, 190) + label('hearting', 158, 290, 280, 260) + label('face', 220, 320, 280, 320) + label('footing', 235, 374, 280, 385) + '</svg>';
}

const slope = (t) => 34 / 38 * Math.exp(-t / 38) + 0.21;
const error = plot({ xMax: 250, yMax: 20, xStep: 50, yStep: 5, xLabel: 'Age of the wall (years)', yLabel: 'Error of the date (years)', marks: (x, y) =>
  [[4, '#b8382b'], [6, '#34567a'], [8, '#4f7350']].map(([m, colour]) =>
    `<path d="${curve((t) => Math.sqrt(2.2 + 14 / m) / slope(t), x, y, 250)}" fill="none" stroke="${colour}" stroke-width="4"/><text x="${x(232)}" y="${y(Math.sqrt(2.2 + 14 / m) / slope(232)) - 10}" fill="${colour}">${m}</text>`).join('') });

figures['article/figures/shade.png'] = figures['thesis/figures/aspects.png'];

const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'] });
const page = await browser.newPage({ viewport: { width: 900, height: 560 }, deviceScaleFactor: 2 });
for (const [path, svg] of Object.entries(figures)) {
  await page.setContent(`<style>body{margin:0}</style>${svg}`);
  await page.screenshot({ path: join(here, path) });
}

// The others in their own formats: vectors as SVG and PDF, a made-up photograph as JPEG.
writeFileSync(join(here, 'thesis/figures/section.svg'), section());
writeFileSync(join(here, 'thesis/figures/growth.svg'), growthPlot(walls));
await page.setContent(`<style>body{margin:0}@page{margin:0}</style>${error}`);
await page.pdf({ path: join(here, 'thesis/figures/slope.pdf'), width: '900px', height: '560px', printBackground: true, pageRanges: '1' });
const coarse = await browser.newPage({ viewport: { width: 900, height: 560 } });
await coarse.setContent(`<style>body{margin:0}</style><svg xmlns="http://www.w3.org/2000/svg" width="900" height="560"><filter id="rough"><feTurbulence type="fractalNoise" baseFrequency=".018 .03" numOctaves="6" seed="9"/><feDiffuseLighting lighting-color="#d8cfbd" surfaceScale="7"><feDistantLight azimuth="50" elevation="52"/></feDiffuseLighting></filter><rect width="900" height="560" fill="#5b6a4e"/><path d="M70 430L120 160L330 70L640 90L820 210L850 420L560 510L240 500Z" filter="url(#rough)" fill="#999"/></svg>`);
await coarse.screenshot({ path: join(here, 'thesis/figures/stone.jpg'), type: 'jpeg', quality: 55 });
await browser.close();
