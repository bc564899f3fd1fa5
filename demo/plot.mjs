// Plots of the demo's invented data, as SVG: for the figures and for the analysis stand-in.

/** Numbers between 0 and 1, the same for the same seed. */
export function randomNumbers(seed) {
  return () => (seed = (seed * 16807) % 2147483647) / 2147483647;
}

/** Noise about 0 from such numbers. */
export const noiseOf = (random) => () => random() + random() + random() - 1.5;

/** A plot with axes, marked by a function that gets the scales. */
export function plot({ xMax, yMax, xStep, yStep, xLabel, yLabel, marks }) {
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

/** Diameter of a thallus in millimetres by its age in years, in the made-up valley. */
export const growth = (t) => 34 * (1 - Math.exp(-t / 38)) + 0.21 * t;

/** A function as a path. */
export const curve = (f, x, y, to) => 'M' + Array.from({ length: 101 }, (_, i) => `${x((i * to) / 100)} ${y(f((i * to) / 100))}`).join('L');

/** The growth plot: walls of known date, and the curve through them. */
export const growthPlot = (walls) =>
  plot({ xMax: 250, yMax: 100, xStep: 50, yStep: 20, xLabel: 'Age of the wall (years)', yLabel: 'Thallus diameter (mm)', marks: (x, y) =>
    walls.map(([age, diameter]) => `<circle cx="${x(age).toFixed(1)}" cy="${y(diameter).toFixed(1)}" r="6" fill="#34567a" fill-opacity=".75"/>`).join('') +
    `<path d="${curve(growth, x, y, 250)}" fill="none" stroke="#b8382b" stroke-width="4"/>` });
