// Writes the chapters of the demo's field book from invented names and sentences; the same seed gives the same book.
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const here = join(dirname(fileURLToPath(import.meta.url)), 'book', 'chapters');
mkdirSync(here, { recursive: true });
let seed = 20260504;
const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
const pick = (list) => list[Math.floor(random() * list.length)];
const between = (a, b) => a + Math.floor(random() * (b - a + 1));
const some = (list, n) => {
  const left = [...list];
  return Array.from({ length: n }, () => left.splice(Math.floor(random() * left.length), 1)[0]);
};

const farms = ['High Ash', 'Nether Fold', 'Stell Farm', 'Crook Barn', 'Upper Rigg', 'Sike House', 'Hollin Edge', 'Mill Lane', 'Pinder Hill', 'Low Garth', 'Swine Close', 'Marrow Head'];
const wallers = ['Josiah Pell', 'the brothers Unthank', 'Hester Lowe', 'Amos Garside', 'a gang from Marrow Head', 'old Tobias Reed', 'Nan Calloway', 'Ezra Pinder and his son'];
const stones = ['brown gritstone', 'pale limestone', 'blue slate from the upper quarry', 'river cobbles', 'split boulders', 'flagstone', 'grit with a few white quartz blocks'];
const kinds = ['boundary wall', 'intake wall', 'fold wall', 'lane wall', 'garden wall', 'head wall', 'march wall', 'shelter wall'];
const features = ['a lunky for sheep', 'a stone stile of four steps', 'a blocked gate', 'a bee bole', 'a smoot at the stream', 'a cheek-end with no gate', 'a water gate of oak', 'a straight joint'];
const lichens = ['grey discs the size of a hand', 'a yellow map that reaches over three stones', 'small black dots like pepper', 'pale rosettes with a green edge', 'orange crusts below the copes where birds sit'];

const opening = (w) => pick([
  `The ${w.kind} of ${w.farm} runs for ${w.length} metres from ${w.from} to ${w.to}.`,
  `From ${w.from} to ${w.to} there are ${w.length} metres of ${w.kind}, all of ${w.stone}.`,
  `This is a ${w.kind} of ${w.length} metres. It sets out at ${w.from} and ends, after two bends, at ${w.to}.`,
  `Few walls of ${w.farm} are as easy to find as this one: it leaves the road at ${w.from} and makes straight for ${w.to}, ${w.length} metres off.`,
]);
const history = (w) => pick([
  `The ledger gives ${w.year} and the name of ${w.waller}, who were paid by the rood.`,
  `It was raised in ${w.year} by ${w.waller}; the bill survives, and with it a quarrel over the copes.`,
  `No ledger names it, but a lease of ${w.year} speaks of “the new wall”, and the lichens agree.`,
  `In ${w.year}, a dry year, ${w.waller} built it between hay time and the first frost.`,
  `A stone near the middle bears the figures ${w.year}. They were cut with care, and there is no reason to doubt them.`,
]);
const build = (w) => pick([
  `It is built of ${w.stone}, double, with two rows of throughs and a batter of one in eight.`,
  `The stone is ${w.stone}. The hearting is tight for the lower half and loose above it, as if time had run out.`,
  `Footings stand out by a hand's breadth on the lower side. Above them the ${w.stone} is laid in courses as far as the throughs, and then as it came.`,
  `The waller sorted his ${w.stone}: large below, small above, and the flattest kept for the copes.`,
]);
const look = (w) => pick([
  `On its north side grow ${w.lichen}; the south side, in the sun, has them larger by a third.`,
  `The lichens are ${w.lichen}. They were scored in ${w.quadrats} quadrats, read twice, and the readings differ by a millimetre.`,
  `Look for ${w.lichen} at breast height, ten paces from the gate.`,
  `There are ${w.lichen} along the whole length but for the gap that was filled after the flood, where the stones are still clean.`,
]);
const feature = (w) => pick([
  `Halfway along there is ${w.feature}, and beside it a second, smaller, that was never finished.`,
  `Its one oddity is ${w.feature}. Nobody at ${w.farm} remembers what it was for.`,
  `Stop at ${w.feature}: the wall on its left is older than the wall on its right by a lifetime.`,
  `Walkers will notice ${w.feature}; sheep noticed it long before.`,
]);
const state = (w) => pick([
  `It is sound but for ${w.gaps} gaps, none wider than a barrow.`,
  `The farm mends it each March. We found ${w.gaps} gaps open, and left none.`,
  `Ivy has taken the last ${w.gaps} metres and will take the rest.`,
  `It leans towards the road and has leant so for as long as anyone can say.`,
]);
const advice = (w) => pick([
  `Ask at the farm before you cross the yard; the dog is older than it looks.`,
  `The best light is in the morning, when the scale of a rule can be read without bending down.`,
  `Score the middle third. The ends were rebuilt too often to be trusted.`,
  `Bring a card for the shade: the ash trees make a liar of the north face.`,
]);
const places = ['the sheepwash', 'the lower gate', 'a lone thorn', 'the stream', 'the quarry track', 'the corner of the wood', 'the old kiln', 'the parish stone', 'the footbridge', 'the crest of the hill'];

// Each wall sends the reader to one before it; only those have labels.
const twins = Array.from({ length: farms.length * 9 }, (_, i) => (i > 0 ? between(1, i) : 2));
let number = 0;
for (const farm of farms) {
  const name = farm.toLowerCase().replace(/ /g, '-');
  let text = `\\chapter{${farm}}\n`;
  text += `${pick([
    `${farm} lies where the valley narrows, and its walls are closer together than anyone would build them today.`,
    `The land of ${farm} was taken in from the moor in three bites, and each bite has its own kind of wall.`,
    `At ${farm} the stone lies on the surface. A wall here was a way of clearing a field, and some are wider than they are high.`,
    `${farm} has kept its papers. We could date most of its walls by the ink before we looked at the lichens.`,
  ])} ${pick([
    'Nine walls are described below, in the order in which a walker meets them who comes up from the bridge.',
    'The nine that follow can be seen in one long day, or better in two short ones.',
    'We give nine of them. The rest are like one or other of these, or have been mended so often that nothing can be said.',
  ])}\n\n`;
  for (let i = 0; i < 9; i++) {
    number++;
    const [from, to] = some(places, 2);
    const year = between(1742, 1931);
    const age = 2025 - year;
    const w = { farm, from, to, year, kind: pick(kinds), length: between(18, 320), waller: pick(wallers), stone: pick(stones), feature: pick(features), lichen: pick(lichens), quadrats: between(4, 12), gaps: pick(['two', 'three', 'four', 'five']) };
    const title = w.kind[0].toUpperCase() + w.kind.slice(1) + (i % 3 === 0 ? ` by ${to}` : ` from ${from}`);
    text += `\\section{${title}}${twins.includes(number) ? `\\label{wall:${number}}` : ''}\\index{${farm}!${w.kind}}\\index{${w.stone.split(' ').slice(0, 2).join(' ')}}\n`;
    text += `${opening(w)} ${history(w)} ${build(w)}\n\n`;
    text += `${look(w)} ${feature(w)}${random() < 0.3 ? `\\footnote{${pick(['So the farm says; the ledger is silent.', 'A second one, at the far end, was filled within living memory.', 'Compare the wall in the next chapter.', 'The word is local, and dying out.'])}}` : ''} ${state(w)} ${advice(w)}\n\n`;
    const south = (38 * (1 - Math.exp(-age / 38)) + 0.21 * age + (random() - 0.5) * 6).toFixed(1);
    const north = (29 * (1 - Math.exp(-age / 38)) + 0.14 * age + (random() - 0.5) * 6).toFixed(1);
    text += `\\begin{center}\\small\n\\begin{tabular}{@{}lrlr@{}}\n\\toprule\nwall & ${number} & length & ${w.length} m\\\\\nbuilt & ${year} & quadrats & ${w.quadrats}\\\\\nlargest thallus, north & ${north} mm & south & ${south} mm\\\\\n\\bottomrule\n\\end{tabular}\n\\end{center}\n\n`;
    text += `${pick(['Nearest to it, in age and in build, is', 'It should be seen together with', 'Its twin, if a wall can have one, is'])} the wall of section~\\ref{wall:${twins[number - 1]}} on page~\\pageref{wall:${twins[number - 1]}}. ${advice(w)} ${pick([build(w), look(w), state(w)])}\n\n`;
  }
  writeFileSync(join(here, `${name}.tex`), text);
}
