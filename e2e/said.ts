import { appendFileSync, writeFileSync } from 'node:fs';
import type { FullResult, Reporter, TestCase, TestResult } from '@playwright/test/reporter';

/**
 * Writes what becomes of each test as `go test -json` does (`go doc test2json`), a line at a time, so that one reader tells
 * what fell in both, also where the run was stopped before its end.
 */
export default class Said implements Reporter {
  private readonly file = process.env.MENDRY_SAID;

  onBegin() {
    if (this.file) writeFileSync(this.file, '');
  }
  onTestBegin(test: TestCase) {
    this.say('run', test);
  }
  onTestEnd(test: TestCase, result: TestResult) {
    const plain = (s = '') => s.replace(/\u001b\[[0-9;]*m/g, '');
    for (const e of result.errors) {
      const at = e.location ? `${e.location.file.split('/').at(-1)}:${e.location.line}: ` : '';
      this.say('output', test, { Output: at + plain(e.message ?? e.value) + plain(e.snippet && `\n${e.snippet}`) + '\n' });
    }
    for (const a of result.attachments)
      if (a.path && result.status !== 'passed') this.say('output', test, { Output: `${a.name}: ${a.path}\n` });
    const fell = result.status !== test.expectedStatus;
    const again = fell && result.retry < test.retries;
    const said = result.status === 'skipped' ? 'skip' : again ? 'again' : fell ? 'fail' : result.retry ? 'flaky' : 'pass';
    this.say(said, test, { Elapsed: result.duration / 1000 });
  }
  onError(e: { message?: string; value?: string }) {
    this.write({ Action: 'output', Package: 'browser', Output: `${e.message ?? e.value}\n` });
  }
  onEnd(result: FullResult) {
    const done = result.status === 'passed' ? 'pass' : 'fail';
    this.write({ Action: done, Package: 'browser', Elapsed: result.duration / 1000 });
  }

  private say(action: string, test: TestCase, more: object = {}) {
    const [, , file, ...titles] = test.titlePath();
    this.write({ Action: action, Package: 'browser', Test: `${file} › ${titles.join(' › ')}`, ...more });
  }
  private write(event: object) {
    if (this.file) appendFileSync(this.file, `${JSON.stringify(event)}\n`);
  }
}
