// Tells what became of a run of the tests, from the lines that `go test -json` and the browser's reporter wrote
// (`go doc test2json`), so that its end says what fell and why, however the run ended.
// Usage: node said.mjs FOLDER [WHY IT WAS STOPPED]
import { existsSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';

const [folder = '.', stopped = ''] = process.argv.slice(2);
const lines = 80; // what fell stands within so many lines, whatever fell
const slowest = 10;

/** Every test of a run by its name, each with what became of it last; and what was said of whole packages. */
function read(file) {
  const tests = new Map();
  const packages = new Map();
  if (!existsSync(file)) return { tests, packages };
  for (const line of readFileSync(file, 'utf8').split('\n')) {
    let e;
    try {
      e = JSON.parse(line);
    } catch {
      continue; // not of the tests, or the last line of a run that was killed
    }
    const name = e.Package ?? e.ImportPath ?? '';
    const of = e.Test ? tests : packages;
    const key = e.Test ? `${name} ${e.Test}` : name;
    const it = of.get(key) ?? { key, package: name, test: e.Test, state: '', seconds: 0, output: '' };
    of.set(key, it);
    if (e.Action === 'output' || e.Action === 'build-output') it.output += e.Output;
    else if (e.Action !== 'start' && e.Action !== 'pause' && e.Action !== 'cont') it.state = e.Action;
    if (e.FailedBuild) it.state = 'unbuilt'; // which is named by itself
    if (e.Elapsed !== undefined) it.seconds = e.Elapsed;
  }
  return { tests, packages };
}

const fell = (t) => t.state === 'fail' || t.state === 'build-fail' || t.state === 'run' || (t.state === '' && t.output);
/** A test fails with those below it, which say why. */
const itself = (all) => all.filter((t) => !all.some((o) => o.test?.startsWith(`${t.test}/`) && o.package === t.package));

/** What was said, without the stacks of a run that was stopped and what `go test` adds around it. */
function why(t) {
  const said = t.output.split(/^goroutine \d+ /m)[0].split('\n');
  const noise = /^\s*(=== (RUN|PAUSE|CONT|NAME)|--- (FAIL|PASS|SKIP)|FAIL$|FAIL\t|exit status|ok {2}|coverage:)/;
  return said.map((l) => l.trimEnd()).filter((l) => l && !noise.test(l)).map((l) => l.slice(0, 300));
}
/** So many lines of it, its beginning and its end. */
function shortened(said, n) {
  if (said.length <= n) return said;
  const end = Math.floor((n - 1) / 2);
  return [...said.slice(0, n - 1 - end), '…', ...said.slice(said.length - end)];
}

const took = (s) => `${s.toFixed(1)} s`;
const rows = (file) => (existsSync(join(folder, file)) ? readFileSync(join(folder, file), 'utf8').split('\n').filter(Boolean) : []);
/** A stage that is no run of tests: its log is what it said. */
const stage = (what) => ({ package: what, state: 'fail', seconds: 0, output: rows(`${what}.log`).slice(-40).join('\n') });

const go = read(join(folder, 'go.json'));
const browser = read(join(folder, 'browser.json'));

const parts = [];
for (const [what, run] of [['Go', go], ['browser', browser]]) {
  const slow = [...run.tests.values()].filter((t) => !t.test.includes('/')).sort((a, b) => b.seconds - a.seconds).slice(0, slowest);
  if (slow.length) parts.push(`== slowest ${what} tests`, ...slow.map((t) => `${took(t.seconds).padStart(9)}  ${t.key}`));
}
const closing = [...go.packages.values()].map((p) => p.output.split('\n').find((l) => /^(ok {2}|FAIL|---)\s*\t/.test(l) || /^ok /.test(l)));
parts.push('== go test', ...closing.filter(Boolean).filter((l) => l.startsWith('ok')).sort(), ...closing.filter(Boolean).filter((l) => !l.startsWith('ok')).sort());

parts.push('== stages', ...rows('took').map((r) => `${r} s`));
const count = (state) => [...browser.tests.values()].filter((t) => state.includes(t.state)).length;
const told = { go, browser }; // by their tests
const stages = rows('fell').filter((what) => !told[what]?.packages.size);
const red = [...stages.map(stage), ...itself([...go.tests.values()].filter(fell)), ...[...browser.tests.values()].filter(fell)];
// A package falls by itself where it does not build, or ends outside a test.
red.push(...[...go.packages.values(), ...browser.packages.values()].filter((p) => fell(p) && !red.some((t) => t.package === p.package)));
const flaky = [...browser.tests.values()].filter((t) => t.state === 'flaky');

if (red.length || stopped) {
  parts.push('== what fell');
  const named = red.slice(0, 20); // each with a line or two; of the others the name alone
  const each = Math.max(2, Math.floor((lines - 16 - flaky.length) / Math.max(1, named.length)) - 1);
  for (const t of named) {
    parts.push(`--- FAIL: ${t.test ? t.key : t.package} (${t.state === 'run' ? 'had not ended' : took(t.seconds)})`);
    parts.push(...shortened(why(t), each).map((l) => `    ${l}`));
  }
  if (red.length > named.length) parts.push(`and ${red.slice(named.length).map((t) => t.test ?? t.package).join(', ')}`.slice(0, 2000));
}
if (browser.tests.size) parts.push('== browser tests', `${count(['pass', 'flaky'])} passed, ${count(['fail', 'run'])} failed, ${count(['skip'])} skipped`);
parts.push(...flaky.map((t) => `flaky: ${t.test} (${why(t)[0] ?? ''})`));
if (stopped) parts.push(stopped);
if (red.length || flaky.length || stopped) parts.push(`whole logs: ${resolve(folder)}`);
console.log(parts.join('\n'));
