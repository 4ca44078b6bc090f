import { onDestroy } from 'svelte';
import { answer, api, Refusal, words, type Schemas } from '../../api/client';
import { refresh, session } from '../../api/session.svelte';
import { drawer } from '../../look/drawer';
import { hushed } from '../../look/keys.svelte';
import type { Block } from '../../parts/words/blocks';
import { Brought } from './brought.svelte';
import { Company } from './company.svelte';
import type { Field } from './field.svelte';
import type { Hand } from './hand.svelte';
import { type Act, addressed, Outbox, type Slip } from './outbox';
import type { Where } from './picture/lay';
import type { From } from './picture/picking.svelte';
import type { PlacesOf } from './picture/places';
import { ReadThrough } from './readThrough.svelte';
import { renames } from './renames';
import { taken } from './seen';
import { Tab } from './tabs';
import type { Typed } from './typed';
import { Unsent } from './unsent.svelte';

export type { Act } from './outbox';

const pause = 350; // ms without a key, after which what was typed is kept
const moment = 300; // ms after which the page is loaded again that others change
const retry = 2000; // ms until a Mendry that was away is asked again
const mostAgain = 3; // times that a page that changed meanwhile is looked at again for one slip

/**
 * A page on the bench. Changes go to Mendry one after the other out of the outbox, which survives a reload and a Mendry
 * that cannot be reached.
 */
export class BenchPage {
  bench = $state.raw<Schemas['Bench'] | undefined>();
  problem = $state('');
  state = $state<'kept' | 'typing' | 'keeping' | 'unsent' | 'undecided'>('kept');
  /** What is unsent outlives this page. */
  lasts = $state(true);
  /** What the rules about words say of what is kept on this page. */
  readonly rules: ReadThrough;
  /** That which is said of the run in hand. */
  readonly saidHere = $derived.by(() => {
    const here = Object.values(this.hand?.parts ?? {});
    return this.rules.said.filter((f) => here.includes(f.part));
  });
  /** Another tab has this page in hand and writes. */
  follows = $state(false);
  /** The run in hand is read anew, since its parts have other names: nobody took it, and the focus is left where it is. */
  renewed = false;
  /** How often somebody took something in hand. */
  taken = 0;
  /** Counted up when what is in hand is taken again: the cursor goes back to its words. */
  focuses = $state(0);
  /** The drafts of this page by which its parts have the names that they have here. */
  names = $state.raw<readonly string[]>([]);
  /** What was added to the request here. */
  readonly brought: Brought;
  /** The picture under what was pointed at last. */
  under = $state.raw<string | undefined>();
  /** A picture that is being chosen for a part. */
  picking = $state.raw<
    { part: string; from?: From; put?: 'new' | 'again'; where?: Where; behind?: string } | undefined
  >();
  /** A part beside which a new section is being chosen. */
  adding = $state.raw<string | undefined>();
  /** The page's earlier versions are looked through. */
  looksBack = $state(false);
  /** The part whose markup is written by hand. */
  byHand = $state.raw<string | undefined>();
  /** Something is chosen in the place of the page. */
  readonly chooses = $derived(!!this.picking || !!this.adding || this.looksBack);
  /** How large the pictures of a draft are shown, in windows of several widths. */
  measured = $state.raw<{ draft: string; places: PlacesOf } | undefined>();
  /** Where the cursor goes in the next part that is taken up. */
  cursor: number | 'all' | undefined;
  /** What is typed and not kept yet. */
  readonly unsent: Unsent;
  /** Who else has it on the bench. */
  readonly company: Company;
  private readonly box: Outbox;
  private readonly tab: Tab;
  private shown = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private running: Promise<void> | undefined;
  private made: string | undefined;
  private anew = false;
  /** Mendry could not be reached the last time. */
  private away = false;
  private redrawing: ReturnType<typeof setTimeout> | undefined;
  /** Whose words these are: they are sent for nobody else. */
  private readonly who = session.me?.id;

  constructor(
    readonly number: number,
    readonly page: number,
    /** Called when the page in the frame has to be loaded again. */
    readonly onredraw: () => void,
    /** Shows typed words in the page before they are kept. */
    readonly ontyped: (part: string, html: string) => void,
    /** Told the names of the parts, by those that they had, when a change gave them others. */
    readonly onnames: (to: (id: string) => string | undefined) => void = () => {},
    /** Shows a typed run in the page before it is kept. */
    readonly onrun: (hand: string, blocks: (Block & { part?: string })[]) => void = () => {},
  ) {
    this.box = new Outbox(drawer, `mendry.unsent.${this.who}.${number}.${page}`);
    this.unsent = new Unsent(this.box, (act) => {
      if (act) this.typed(act);
      else this.show();
      this.later();
    });
    this.brought = new Brought(number);
    this.rules = new ReadThrough(number, page, () => this.bench?.draft);
    this.company = new Company(number, page, (n) => void this.news(n));
    this.tab = new Tab(
      `mendry.bench.${number}.${page}`,
      (writes) => void this.turn(writes),
      () => this.follows && void this.look(),
    );
  }

  /** Begins to write, unless another tab does. */
  open() {
    this.tab.open();
    return this.load().then(() => this.company.open());
  }

  close() {
    this.rules.stop();
    clearTimeout(this.redrawing);
    void this.flush();
    this.company.close();
    this.tab.close();
  }

  /** Writes here, and lets the tab that did so follow. */
  writeHere() {
    this.tab.take();
  }

  private async turn(writes: boolean) {
    if (!writes) {
      this.follows = true;
      this.box.leave();
      this.unsent.letGo();
      this.state = 'kept';
    } else if (this.follows) {
      await this.load(); // with what the other tab had not sent yet
      this.follows = false;
      await this.flush();
      this.onredraw();
    }
  }

  /** Looks at what the tab that writes has kept. */
  private async look() {
    await this.reload();
    this.onredraw();
  }

  private path() {
    return { params: { path: { number: this.number, page: this.page } } };
  }

  /** Asked with it, the page tells what arrived of that which was sent. */
  private asked() {
    return { params: { ...this.path().params, query: { outbox: this.box.id } } };
  }

  /** The run in hand. */
  get hand() {
    return this.unsent.hand;
  }

  async load() {
    if (!this.bench || this.follows) this.box.open();
    try {
      await this.alone(async () => {
        const got = await answer(api.GET('/requests/{number}/bench/{page}', this.asked()));
        this.unsent.arrived(got);
        this.see(got, got);
      });
      this.problem = '';
    } catch (e) {
      this.problem = words(e);
      return;
    }
    this.unsent.begin(this.bench!);
    if (this.bench?.changes.some((c) => c.page_id === this.page)) this.rules.soon();
    if (this.box.waiting.length && !this.follows) {
      await this.flush();
      this.onredraw();
    }
  }

  /** Takes the run into hand that a part is in, if it is in one. */
  take(part: string | undefined) {
    if (!this.follows) this.unsent.take(this.bench, part);
  }

  /** A field for one thing of the page, for as long as the component is there that asks for it. */
  field(act: Typed): Field {
    const field = this.unsent.field(this.bench!, act);
    onDestroy(() => this.unsent.leave(field));
    return field;
  }

  /** Shows the page as it will be written, after words were shown in it while they were typed; not at once, so that the
   * click that left the words still reaches the page. */
  async settle() {
    await this.flush();
    if (!this.shown) return;
    this.shown = false;
    setTimeout(() => this.state === 'kept' && this.onredraw(), 700);
  }

  /** Shows what is typed in a field in the page. */
  private typed(act: Typed) {
    if (act.do === 'caption' || act.do === 'link-picture') this.shown = true; // it puts something around the picture
    if (act.do === 'markup') {
      this.shown ||= /</.test(act.html);
      this.ontyped(act.part, act.html);
    }
  }

  /** The cursor leaves a block, or the run: one that was emptied is taken out now. */
  left(hand: Hand, at: string | null, wish?: number) {
    if (hand.emptied(at)) this.typeRun(hand, hand.now, wish, at);
  }

  /** Takes a run as it is in the editor; the block that the cursor is in keeps its words until it has others. */
  typeRun(hand: Hand, blocks: Block[], wish?: number, at: string | null = hand.at ?? null) {
    this.unsent.typeRun(hand, blocks, wish, at);
    this.show(hand);
    this.later();
  }

  /** Shows the run in hand in the page, as it is typed. */
  show(hand = this.hand) {
    if (!hand) return;
    this.onrun(
      hand.name,
      hand.now.map((b) => ({ ...b, part: hand.parts[b.key] })),
    );
  }

  private later() {
    this.unsent.tell();
    this.state = 'typing';
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.flush(), pause);
  }

  /** Makes a change at once. Gives the part that it made, to go on in. */
  make(act: Act, wish?: number, everywhere = false) {
    return hushed(this.makeNow(act, wish, everywhere));
  }

  private async makeNow(act: Act, wish?: number, everywhere = false) {
    await this.flush();
    this.made = undefined;
    this.box.put({ act, wish_id: wish, ...(everywhere && { everywhere }) });
    await this.flush();
    this.onredraw();
    return this.made;
  }

  /** Tells later whether nobody took something in hand from now on: only then is what an act made taken in hand. */
  untaken() {
    const taken = this.taken;
    return () => this.taken === taken;
  }

  takeCursor() {
    const at = this.cursor;
    this.cursor = undefined;
    return at;
  }

  /** Looks at the page again after changes were made elsewhere. */
  async again() {
    await this.flush();
    await this.reload();
    this.onredraw();
    this.rules.soon();
  }

  /** Others changed the page, or this one did and hears of it. */
  private async news({ draft }: Schemas['BenchNews']) {
    if (draft === this.bench?.draft) return;
    try {
      await this.alone(async () => {
        if (draft === this.bench?.draft) return; // it was its own
        const before = this.bench?.draft;
        await this.ask();
        if (before === this.bench?.draft) return;
        this.redrawSoon();
        this.rules.soon();
      });
    } catch {
      // What is wrong is said when something is kept.
    }
  }

  /** Loads the page in the frame again, not more often than somebody types. */
  private redrawSoon() {
    if (this.redrawing) return;
    this.redrawing = setTimeout(() => {
      this.redrawing = undefined;
      this.onredraw();
    }, moment);
  }

  /** Takes the page as something else than an act left it: its bytes are what they were. */
  told(got: Schemas['Bench']) {
    this.see(got);
    this.tab.tell();
  }

  /** Takes a page as it is now; what is in hand and what waits is brought onto it. It gives the names of the parts by those
   * that they had. */
  private see(got: Schemas['Bench'], all = this.bench ? taken(this.bench, got) : got, kept?: Slip) {
    const before = this.bench;
    if (got.draft !== before?.draft) this.names = got.whole ? [got.draft] : [...this.names, got.draft];
    this.bench = all;
    if (!before || (before.draft === all.draft && !kept)) return;
    const to = got.whole ? renames(before.parts, all.parts) : (id: string) => id;
    if (got.whole) this.onnames(kept ? (id) => to(id) ?? id : to);
    const had = this.hand;
    if (kept) this.unsent.kept(kept, got, all, to);
    else this.unsent.onto(all, to);
    if (had && !this.hand) this.renewed = true;
  }

  /** Something is pointed at that is known only later; of a draft that is not known here its names are found out. */
  async pointed(draft?: string) {
    this.taken++;
    const before = this.bench?.draft;
    await this.flush();
    if (!draft || this.names.includes(draft) || this.bench?.draft !== before) return;
    try {
      await this.again(); // it is somebody else's, or one whose answer was lost
    } catch (e) {
      this.problem = words(e);
    }
  }

  /** Asks for the page as it is now, when nothing is on its way. */
  private reload() {
    return this.alone(() => this.ask());
  }

  private async ask() {
    const got = await answer(api.GET('/requests/{number}/bench/{page}', this.asked()));
    this.unsent.arrived(got);
    this.see(got);
  }

  /** Does something while nothing else is asked of Mendry that gives the page another draft. */
  private async alone(work: () => Promise<void>): Promise<void> {
    while (this.running) await this.running.catch(() => {});
    this.running = work().finally(() => (this.running = undefined));
    return this.running;
  }

  /** Keeps everything that waits. */
  async flush(): Promise<void> {
    clearTimeout(this.timer);
    while (this.running) await this.running.catch(() => {});
    if (!this.box.waiting.length) this.rests();
    if (!this.box.waiting.length || this.follows || !this.own) return;
    return this.alone(() => this.work());
  }

  /** Nothing is left that could be kept now. */
  private rests() {
    this.state = this.unsent.undecided.length ? 'undecided' : 'kept';
    if (this.away) this.problem = ''; // what was sent had arrived, as was seen since
    this.away = false;
  }

  private async work() {
    this.state = 'keeping';
    let tries = 0; // of the one at hand
    const next = () => this.bench && this.box.next(this.bench.draft);
    for (let s = next(), last = s; s; last = s, s = next()) {
      if (s !== last) tries = 0;
      const act = addressed(s);
      try {
        const got = await answer(
          api.POST('/requests/{number}/bench/{page}', {
            ...this.path(),
            body: {
              act,
              wish_id: s.wish_id,
              draft: this.bench!.draft,
              sent: { outbox: this.box.id, number: this.box.number },
              ...(s.everywhere && { everywhere: true }),
            },
            keepalive: JSON.stringify(act).length < 60_000, // more is not sent by a page that is closed (Fetch, 4.5)
          }),
        );
        this.got(s, got);
      } catch (e) {
        if (!(await this.failed(s, e, tries++))) return;
      }
    }
    this.unsent.tell();
    this.rests();
    refresh();
    this.rules.soon();
  }

  private got(s: Slip, got: Schemas['Bench']) {
    this.made = got.made ?? undefined;
    this.problem = '';
    this.see(got, taken(this.bench!, got), s);
    // The page that was loaded anew meanwhile has blocks of the run that were not known to be in it: it shows them twice.
    const again = got.whole || this.anew;
    this.anew = false;
    if (s.from && again) this.onredraw();
    else if (s.from) this.shown ||= JSON.stringify(s.act).includes('<');
    this.tab.tell();
  }

  /** Who began to write here is signed in. */
  private get own() {
    return session.me?.id === this.who;
  }

  private waits(): false {
    [this.state, this.lasts] = ['unsent', this.box.lasts];
    return false;
  }

  /** Reports whether to go on with the next one. */
  private async failed(s: Slip, e: unknown, tries: number): Promise<boolean> {
    this.problem = words(e);
    const status = e instanceof Refusal ? e.status : 0;
    this.box.back(status > 0 && status < 500);
    if (status === 401 || status === 403) {
      const had = session.me?.csrf;
      await refresh();
      if (this.own && session.me?.csrf !== had && tries < mostAgain) return true; // signed in anew, in another tab
      if (!this.own) return this.waits();
    }
    if (status === 0 || status >= 500) {
      this.away = true;
      this.timer = setTimeout(() => this.flush(), retry);
      return this.waits();
    }
    if (status === 409) {
      const typed = !!s.from || !!s.single;
      if (typed && tries) await new Promise((done) => setTimeout(done, Math.random() * Math.min(tries, 8) * 60)); // they take turns
      const had =
        'part' in s.act ? this.bench?.parts.find((p) => p.id === (s.act as { part: string }).part) : undefined;
      try {
        await this.ask();
      } catch (e) {
        return this.failed(s, e, tries);
      }
      this.anew = true;
      this.onredraw();
      if (typed || !this.box.waiting.includes(s)) {
        this.problem = '';
        return true; // it was brought onto the page as it is now, or set aside; or it had arrived
      }
      const now = had && this.bench?.parts.find((p) => p.id === had.id);
      if (tries < mostAgain && had && now?.kind === had.kind && now.text === had.text) return true; // once more
    }
    this.box.refused(s);
    this.unsent.tell();
    return true;
  }

  /** Puts something away that could not be kept. */
  forget(s: Slip) {
    this.box.forget(s);
    this.unsent.tell();
  }

  drop(change: number) {
    return hushed(this.dropNow(change));
  }

  private async dropNow(change: number) {
    await this.flush();
    await answer(
      api.DELETE('/requests/{number}/changes/{change}', { params: { path: { number: this.number, change } } }),
    );
    await this.again();
    this.tab.tell();
    refresh();
  }
}
