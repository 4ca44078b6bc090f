// What the end of a run says. The lines are as `go doc test2json` tells them; the browser's reporter writes the same.
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import test from 'node:test';

/** What is said of a run that left such files. */
function said(files, stopped = []) {
  const folder = mkdtempSync(join(tmpdir(), 'said-'));
  try {
    for (const [name, content] of Object.entries(files))
      writeFileSync(join(folder, name), typeof content === 'string' ? content : content.map((e) => JSON.stringify(e)).join('\n'));
    return execFileSync('node', [join(import.meta.dirname, 'said.mjs'), folder, ...stopped], { encoding: 'utf8' }).trimEnd().split('\n');
  } finally {
    rmSync(folder, { recursive: true });
  }
}

const of = (Package, Test, ...events) => events.map((e) => ({ Package, ...(Test && { Test }), ...e }));
const output = (Output) => ({ Action: 'output', Output });
const run = { Action: 'run' };
const pass = { Action: 'pass', Elapsed: 1 };
const fail = { Action: 'fail', Elapsed: 1 };

const green = [...of('m/a', 'TestA', run, output('=== RUN   TestA\n'), pass), ...of('m/a', '', output('ok  \tm/a\t1.0s\n'), pass)];

test('a green run ends with what go test says and the count of the browser', () => {
  const all = said({ 'go.json': green, 'browser.json': of('browser', 'a.spec.ts › one', run, pass) });
  assert.ok(all.includes('ok  \tm/a\t1.0s'));
  assert.equal(all.at(-1), '1 passed, 0 failed, 0 skipped');
});

test('a test that falls is named with its message, not those around it', () => {
  const all = said({
    'go.json': [
      ...of('m/a', 'TestB', run),
      ...of('m/a', 'TestB/sub', run, output('=== RUN   TestB/sub\n'), output('    b_test.go:7: got 1, want 2\n'), output('--- FAIL: TestB/sub (0.0s)\n'), fail),
      ...of('m/a', 'TestB', fail),
      ...of('m/a', '', output('FAIL\tm/a\t1.0s\n'), fail),
      ...green,
    ],
    'browser.json': of('browser', 'a.spec.ts › one', run, output('a.spec.ts:9: Error: expected 3\nnothing like it\n'), output('trace: /t/trace.zip\n'), fail),
  });
  const fell = all.slice(all.indexOf('== what fell'));
  assert.deepEqual(fell.filter((l) => l.startsWith('--- FAIL')), ['--- FAIL: m/a TestB/sub (1.0 s)', '--- FAIL: browser a.spec.ts › one (1.0 s)']);
  for (const words of ['b_test.go:7: got 1, want 2', 'a.spec.ts:9: Error: expected 3', 'trace: /t/trace.zip', 'whole logs: ']) assert.ok(fell.join('\n').includes(words), words);
  assert.ok(fell.includes('0 passed, 1 failed, 0 skipped'));
});

test('what had not ended is named where the run was stopped, without its stacks', () => {
  const all = said(
    {
      'go.json': of('m/a', 'TestHung', run, output('panic: test timed out after 5s\n\trunning tests:\n\t\tTestHung (5s)\n'), output('\ngoroutine 7 [running]:\n'), output('somewhere.go:1\n')),
      'browser.json': of('browser', 'a.spec.ts › two', run),
    },
    ['stopped after 9 seconds'],
  ).join('\n');
  assert.match(all, /--- FAIL: m\/a TestHung \(had not ended\)\n +panic: test timed out after 5s/);
  assert.doesNotMatch(all, /somewhere\.go/);
  assert.match(all, /--- FAIL: browser a\.spec\.ts › two \(had not ended\)/);
  assert.match(all, /stopped after 9 seconds/);
});

test('what does not build is named once, and so is a stage that is no run of tests', () => {
  const all = said({
    'go.json': [
      { ImportPath: 'm/b [m/b.test]', Action: 'build-output', Output: 'b/b.go:2:12: undefined: y\n' },
      { ImportPath: 'm/b [m/b.test]', Action: 'build-fail' },
      { Package: 'm/b', Action: 'fail', Elapsed: 0, FailedBuild: 'm/b [m/b.test]' },
    ],
    fell: 'go\nchecks\n',
    'checks.log': 'gofmt: a.go\n',
  });
  assert.deepEqual(all.filter((l) => l.startsWith('--- FAIL')), ['--- FAIL: checks (0.0 s)', '--- FAIL: m/b [m/b.test] (0.0 s)']);
  for (const words of ['gofmt: a.go', 'undefined: y']) assert.ok(all.join('\n').includes(words), words);
});

test('a test that passed at its second try is told, and the run is green', () => {
  const all = said({ 'go.json': green, 'browser.json': of('browser', 'a.spec.ts › one', run, output('a.spec.ts:9: Error: late\n'), { Action: 'again', Elapsed: 1 }, run, { Action: 'flaky', Elapsed: 1 }) });
  assert.ok(!all.includes('== what fell'));
  assert.ok(all.includes('1 passed, 0 failed, 0 skipped'));
  assert.ok(all.includes('flaky: a.spec.ts › one (a.spec.ts:9: Error: late)'));
});

test('however much falls, it stands within the last eighty lines', () => {
  for (const n of [1, 7, 20, 60]) {
    const long = Array.from({ length: 200 }, (_, i) => `    line ${i}\n`).join('');
    const all = said({ 'go.json': Array.from({ length: n }, (_, i) => of('m/a', `Test${i}`, run, output(long), fail)).flat() });
    const at = all.indexOf('== what fell');
    assert.ok(all.length - at <= 80, `${n}: ${all.length - at} lines`);
    const end = all.slice(at).join('\n');
    for (let i = 0; i < n; i++) assert.ok(end.includes(`Test${i}`), `Test${i} of ${n}`);
  }
});
