import type { Schemas } from '../../api/client';
import { answer, api } from '../../api/client';

const moment = 300; // ms after which what was kept is read through

/** What the rules about words say of what is kept on a page. */
export class ReadThrough {
  said = $state.raw<Schemas['Finding'][]>([]);
  private later: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly number: number,
    private readonly page: number,
    private readonly draft: () => string | undefined,
  ) {}

  /** Asks for it when nothing was kept for a moment. */
  soon() {
    this.stop();
    this.later = setTimeout(async () => {
      const draft = this.draft();
      try {
        const path = { number: this.number, page: this.page };
        const said = await answer(api.GET('/requests/{number}/bench/{page}/findings', { params: { path } }));
        if (draft === this.draft()) this.said = said;
      } catch {
        // The proof says it in any case.
      }
    }, moment);
  }

  stop() {
    clearTimeout(this.later);
  }
}
