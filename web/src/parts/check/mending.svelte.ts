import { answer, api, type Schemas } from '../../api/client';
import { complain } from '../../look/toast';

/** Settles findings with one act: gives a part its words as they would be right, or makes a word right on a site. */
export class Mending {
  busy = $state(false);

  constructor(
    private readonly of: () => { number: number; site: number },
    /** Called when something is settled. */
    private readonly ondone: () => unknown,
    /** What has to be kept first. */
    private readonly first: () => unknown = () => {},
  ) {}

  mend(f: Schemas['Finding']) {
    return this.act(() =>
      answer(
        api.POST('/requests/{number}/mend', {
          params: { path: { number: this.of().number } },
          body: { page_id: f.page_id, part: f.part, words: f.mend },
        }),
      ),
    );
  }

  learn(word: string) {
    return this.act(() =>
      answer(api.PUT('/sites/{site}/words/{word}', { params: { path: { site: this.of().site, word } } })),
    );
  }

  private async act(ask: () => Promise<unknown>) {
    this.busy = true;
    try {
      await this.first();
      await ask();
      await this.ondone();
    } catch (e) {
      complain(e);
    }
    this.busy = false;
  }
}
