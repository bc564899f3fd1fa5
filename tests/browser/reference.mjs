// Answers of reference libraries, for the C# tests to compare with. Reads one request as JSON, writes one answer.
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';

const require = createRequire(import.meta.url);
const request = JSON.parse(await new Promise((resolve) => {
  let text = '';
  process.stdin.on('data', (c) => (text += c)).on('end', () => resolve(text));
}));

/** Random texts and changes; the same for the same seed. */
function random(seed) {
  const next = (n) => (seed = (seed * 48271) % 2147483647) % n;
  const word = () => Array.from({ length: next(6) }, () => 'abc éß\n'.split('')[next(7)]).join('');
  const change = (length) => {
    const spots = Array.from({ length: 1 + next(4) }, () => next(length + 1)).sort((a, b) => a - b);
    return spots.map((from, i) => ({ from, to: Math.min(from + next(5), spots[i + 1] ?? length), insert: next(3) ? word() : '' }));
  };
  return { next, word, change };
}

const answers = {
  // npm hyphen: words with their divisions marked.
  hyphen() {
    const { hyphenateSync } = require(`hyphen/${request.language}`);
    return request.words.map((w) => hyphenateSync(w, { hyphenChar: '-', minWordLength: 5 }));
  },
  // npm tex-linebreak: indices of the items at which lines end.
  linebreak() {
    const { breakLines } = require('tex-linebreak');
    return request.paragraphs.map((p) => breakLines(p.items, p.width, { maxAdjustmentRatio: request.ratio, initialMaxAdjustmentRatio: request.ratio }));
  },
  // @codemirror/state: random changes of one text, and all that is computed from them.
  changes() {
    const { ChangeSet, Text } = require('@codemirror/state');
    const { next, word, change } = random(request.seed);
    return Array.from({ length: request.count }, () => {
      const text = Array.from({ length: 1 + next(9) }, word).join('');
      const doc = Text.of(text.split('\n'));
      const a = ChangeSet.of(change(text.length), doc.length);
      const b = ChangeSet.of(change(text.length), doc.length);
      const after = a.apply(doc);
      const c = ChangeSet.of(change(after.length), after.length);
      const positions = (side) => Array.from({ length: text.length + 1 }, (_, at) => a.mapPos(at, side));
      const json = (set) => JSON.stringify(set.toJSON());
      return {
        text, a: json(a), b: json(b), c: json(c), result: after.toString(), inverted: json(a.invert(doc)), composed: json(a.compose(c)),
        mapped: json(a.map(b)), mappedBefore: json(a.map(b, true)), before: positions(-1), after: positions(1),
      };
    });
  },
  // @codemirror/state: updates of one tab carried over what was taken since, one after the other, some of them its own.
  rebase() {
    const { ChangeSet } = require('@codemirror/state');
    const { next, change } = random(request.seed);
    const json = (updates) => updates.map((u) => ({ clientId: u.tab, changes: JSON.stringify(u.changes.toJSON()) }));
    const series = (from, tab, count) => {
      const made = [];
      for (let at = from; made.length < count; at = made.at(-1).changes.newLength) made.push({ tab, changes: ChangeSet.of(change(at), at) });
      return made;
    };
    const carry = (updates, other) => {
      if (updates[0]?.tab === other.tab) return updates.slice(1);
      let over = other.changes;
      return updates.map((u) => {
        const changes = u.changes.map(over, true);
        over = over.map(u.changes);
        return { ...u, changes };
      });
    };
    return Array.from({ length: request.count }, () => {
      const length = next(30);
      const own = series(length, 'own', 1 + next(4));
      // Others write, and of the tab's own updates the first few were taken in between, though it doesn't know.
      let since = series(length, 'other', next(3));
      since = since.concat(since.reduce(carry, own).slice(0, next(own.length)));
      since = since.concat(series(since.at(-1)?.changes.newLength ?? length, 'third', next(3)));
      return { own: json(own), since: json(since), rebased: json(since.reduce(carry, own)) };
    });
  },
  // The browser's own working copy (web/src/live/workingCopy.ts): what writers lived through, played again.
  async workingCopies() {
    const web = (path) => new URL(`../../web/${path}`, import.meta.url);
    const { runnerImport } = await import(web('node_modules/vite/dist/node/index.js'));
    const { module: live } = await runnerImport(fileURLToPath(web('src/live/workingCopy.ts')), { configFile: false, logLevel: 'error' });
    const { ChangeSet, EditorState } = await import(web('node_modules/@codemirror/state/dist/index.js'));
    return request.writers.map(({ clientId, text, steps }) => {
      let state = EditorState.create({ doc: text, extensions: live.workingCopy(0, clientId) });
      return steps.map(({ own, heard }) => {
        state = own
          ? state.update({ changes: ChangeSet.fromJSON(JSON.parse(own)) }).state
          : live.receive(state, heard.map((u) => ({ clientId: u.clientId, changes: ChangeSet.fromJSON(JSON.parse(u.changes)) }))).state;
        return { text: state.doc.toString(), version: live.syncedVersion(state), unsent: live.unsent(state).map((u) => JSON.stringify(u.changes.toJSON())) };
      });
    });
  },
  // npm mathjax-full: formulas as MathML; null for what it refuses.
  async mathml() {
    const { mathjax } = require('mathjax-full/js/mathjax.js');
    const { TeX } = require('mathjax-full/js/input/tex.js');
    const { AllPackages } = require('mathjax-full/js/input/tex/AllPackages.js');
    const { liteAdaptor } = require('mathjax-full/js/adaptors/liteAdaptor.js');
    const { RegisterHTMLHandler } = require('mathjax-full/js/handlers/html.js');
    const { SerializedMmlVisitor } = require('mathjax-full/js/core/MmlTree/SerializedMmlVisitor.js');
    const { STATE } = require('mathjax-full/js/core/MathItem.js');
    RegisterHTMLHandler(liteAdaptor());
    const tex = new TeX({ packages: AllPackages.filter((name) => !['physics', 'noundefined', 'bussproofs', 'noerrors'].includes(name)) });
    const page = mathjax.document('', { InputJax: tex });
    const visitor = new SerializedMmlVisitor();
    return request.formulas.map((formula) => {
      try {
        const text = visitor.visitTree(page.convert(formula, { display: request.display, end: STATE.CONVERT }));
        return text.includes('<merror') ? null : text;
      } catch {
        return null;
      }
    });
  },
  // npm katex: which formulas it accepts, and how many it sets in a second.
  katex() {
    const katex = require('katex');
    const set = (formula) => katex.renderToString(formula, { displayMode: request.display, throwOnError: true, strict: 'ignore' });
    return request.formulas.map((formula) => {
      try {
        set(formula);
        return true;
      } catch {
        return false;
      }
    });
  },
  // npm @unified-latex: how many arguments commands take, by package; latex2e is the kernel.
  async arguments() {
    const { macroInfo } = await import('@unified-latex/unified-latex-ctan');
    return Object.fromEntries(
      Object.entries(macroInfo).map(([name, macros]) => [name, Object.fromEntries(Object.entries(macros).map(([macro, info]) => [macro, info?.signature ?? '']))]),
    );
  },
  // npm @retorquere/bibtex-parser: entries with names in their parts.
  async bib() {
    const { parse } = await import('@retorquere/bibtex-parser');
    return request.texts.map((text) =>
      parse(text, { sentenceCase: false }).entries.map((e) => ({
        type: e.type,
        key: e.key,
        title: String(e.fields.title ?? '').replace(/<[^>]*>/g, ''),
        year: e.fields.year ?? '',
        journal: e.fields.journal ?? '',
        names: (e.fields.author ?? []).map((n) => [n.firstName ?? '', n.prefix ?? '', n.lastName ?? n.name ?? '', n.suffix ?? '']),
      })),
    );
  },
  // npm citation-js: records from one format as CSL-JSON, or as another.
  citation() {
    const { Cite } = require('@citation-js/core');
    for (const plugin of ['bibtex', 'ris', 'csl']) require(`@citation-js/plugin-${plugin}`);
    return request.texts.map((text) => {
      const data = new Cite(text);
      return request.to === 'csl' ? JSON.stringify(data.data.map(({ _graph, ...record }) => record)) : request.to === 'order' ? JSON.stringify(data.format('bibliography', { template: 'apa', asEntryArray: true })) : data.format(request.to);
    });
  },
  // npm @citation-js/plugin-bibtex: the fields that each type of entry needs, by vocabulary.
  required() {
    const { plugins } = require('@citation-js/core');
    require('@citation-js/plugin-bibtex');
    const { required } = plugins.config.get('@bibtex').constants;
    const flat = (types) => Object.fromEntries(Object.entries(types).map(([type, fields]) => [type, fields.map((f) => (Array.isArray(f) ? f.join('/') : f))]));
    return { classic: flat(required.bibtex), modern: flat(required.biblatex) };
  },
};
process.stdout.write(JSON.stringify(await answers[request.what]()));
