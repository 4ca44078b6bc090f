import { answer, api, words, type Schemas } from '../../api/client';

const pause = 140; // ms without a key before the first question

/** What was typed, and the places found for it; the last answer stays until the next is there. */
export class Finder {
  typed = $state('');
  found = $state<Schemas['Found'][] | undefined>();
  problem = $state('');
  private asked = 0;

  constructor(where: () => { site?: number; request?: number }) {
    $effect(() => {
      const q = this.typed.trim();
      const query = { words: q, ...where() };
      const mine = ++this.asked;
      if (q.length < 2) {
        this.found = undefined;
        return;
      }
      const timer = setTimeout(async () => {
        try {
          const got = await answer(api.GET('/find', { params: { query } }));
          if (mine !== this.asked) return;
          this.found = got;
          this.problem = '';
        } catch (e) {
          this.problem = words(e);
        }
      }, pause);
      return () => clearTimeout(timer);
    });
  }
}
