// The stand-in for the group's statistics job: with an access token it sends this year's measurements to the thesis – a table and a
// plot – and waits for the proof that shows them. Everything is invented.
import { growth, growthPlot, noiseOf, randomNumbers } from './plot.mjs';

const options = Object.fromEntries(
  process.argv.slice(2).flatMap((word, i, all) => (word.startsWith('--') ? [[word.slice(2), all[i + 1]]] : [])),
);
const address = (options.address ?? 'http://127.0.0.1:5210').replace(/\/$/, '');
const manuscript = Number(options.manuscript ?? 1);

/** Asks the server; ends with its words when it refuses. */
async function ask(method, path, headers, body) {
  const answer = await fetch(address + path, { method, headers, body }).catch(() => {
    console.error(`Nothing answers at ${address}. Start it first: ./folio demo`);
    process.exit(1);
  });
  if (answer.ok) return answer;
  console.error((await answer.json().catch(() => null))?.message ?? `${path}: ${answer.status}`);
  process.exit(1);
}

/** Where no token is given, Ilse makes one, as she would in the People dialog: this works with the demo people only. */
async function tokenOfIlse() {
  const jar = new Map();
  const cookies = (answer) => {
    for (const line of answer.headers.getSetCookie()) jar.set(...line.split(';')[0].split(/=(.*)/s).slice(0, 2));
    return answer;
  };
  const headers = (guard) => ({ 'content-type': 'application/json', 'folio-guard': guard, cookie: [...jar].map((c) => c.join('=')).join('; ') });
  const session = async () => cookies(await ask('GET', '/api/session', { cookie: [...jar].map((c) => c.join('=')).join('; ') })).json();
  const { demoPeople, guard } = await session();
  const ilse = demoPeople.find((p) => p.name === 'Ilse Marrable');
  if (!ilse) {
    console.error('Give an access token: --token folio_… (People, Scripts).');
    process.exit(1);
  }
  cookies(await ask('POST', '/api/session', headers(guard), JSON.stringify({ person: ilse.id })));
  const { guard: own } = await session();
  const made = await ask('POST', `/api/manuscripts/${manuscript}/tokens`, headers(own), JSON.stringify({ name: 'analysis run' }));
  return (await made.json()).secret;
}

const token = options.token ?? (await tokenOfIlse());
const authorization = { authorization: `Bearer ${token}` };
const base = `/api/manuscripts/${manuscript}`;
const view = await (await ask('GET', base, authorization)).json();

// A year on, every farm has a few more walls measured; the same state gives the same numbers.
const random = randomNumbers(7 + view.revision);
const noise = noiseOf(random);
const table = view.files.find((p) => p.path === 'data/farms.csv');
const old = table ? await (await ask('GET', `${base}/files/${table.id}/content`, authorization)).text() : 'Farm,Walls,Length (m),Oldest,Newest\n';
const [head, ...farms] = old.trim().split('\n');
const rows = farms.map((line) => {
  const [farm, walls, length, oldest, newest] = line.split(',');
  const more = Math.floor(random() * 3);
  return [farm, Number(walls) + more, Number(length) + more * Math.round(60 + random() * 40), oldest, newest].join(',');
});
const measured = Array.from({ length: 38 + rows.length }, () => {
  const age = 12 + random() * 230;
  return [age, growth(age) + noise() * 7];
});
await ask('PUT', `${base}/files?path=${encodeURIComponent('data/farms.csv')}`, authorization, `${[head, ...rows].join('\n')}\n`);
console.log(`data/farms.csv: ${rows.length} farms, ${rows.reduce((sum, row) => sum + Number(row.split(',')[1]), 0)} walls`);
const put = await ask('PUT', `${base}/files?path=${encodeURIComponent('figures/growth.svg')}`, authorization, growthPlot(measured));
console.log(`${(await put.json()).path}: ${measured.length} walls`);

const wanted = (await (await ask('GET', base, authorization)).json()).revision;
for (let i = 0; i < 200; i++) {
  const proof = await (await ask('GET', `${base}/proof`, authorization)).json();
  if (proof.revision >= wanted) {
    console.log(`The proof of revision ${proof.revision} shows them: ${proof.report.pages} pages in ${Math.round(proof.milliseconds)} ms.`);
    process.exit(0);
  }
  await new Promise((resolve) => setTimeout(resolve, 100));
}
console.error('The proof has not come yet; the data are stored.');
process.exit(1);
