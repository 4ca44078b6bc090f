import { Asked } from '../../api/asked.svelte';
import { answer, api, type Schemas } from '../../api/client';

/** Which acts on a part would be refused, and why: asked when it is taken in hand, and again after each change. */
export class Refused {
  private readonly asked: Asked<Schemas['RefusedAct'][]>;

  constructor(of: () => { number: number; page: number; part: string; built: string }) {
    this.asked = new Asked(() => {
      const { number, page, part } = of();
      const params = { path: { number, page }, query: { part } };
      return answer(api.GET('/requests/{number}/bench/{page}/refused', { params }));
    });
    let timer: ReturnType<typeof setTimeout> | undefined;
    $effect(() => {
      of();
      timer = setTimeout(() => this.asked.again(), settled);
      return () => clearTimeout(timer);
    });
  }

  /** Why an act would be refused; empty where it would not, or where that is not known yet. */
  why(does: string, how = ''): string {
    return this.asked.got?.find((n) => n.do === does && n.how === how)?.why ?? '';
  }

  /** The reasons, each once. */
  whys(does: string[]): string[] {
    const whys = (this.asked.got ?? []).filter((n) => does.includes(n.do)).map((n) => n.why);
    return whys.filter((why, i) => whys.indexOf(why) === i);
  }
}

const settled = 250; // ms that a part is in hand, or is left as it is, before its acts are tried
