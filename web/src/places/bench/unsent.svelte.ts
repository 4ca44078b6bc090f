import type { Schemas } from '../../api/client';
import type { Block } from '../../parts/words/blocks';
import { Field } from './field.svelte';
import { Hand, runOf } from './hand.svelte';
import { type Act, Outbox, plain, type Slip, waitsForWord } from './outbox';
import type { Names } from './onto';
import { arrivedAs, decided } from './rebased';
import { type Typed, wordsIn } from './typed';

type Bench = Schemas['Bench'];

/** Two wordings of the same words: what somebody else made of them, and what was typed here. */
export interface Undecided {
  key: string;
  mine: string;
  theirs: string;
  decide: (mine: boolean) => void;
}

/**
 * What is typed on a page and not kept yet, with the run and the fields that it is typed in. What waits, and what is in
 * hand, always speaks of the page as it was seen last.
 */
export class Unsent {
  /** The run in hand. */
  hand = $state.raw<Hand | undefined>();
  /** What could not be kept, to be looked at. */
  aside = $state.raw<Slip[]>([]);
  /** What somebody has to decide about before it is kept. */
  undecided = $state.raw<Undecided[]>([]);
  /** Runs that were put down, and of which something is not kept yet. */
  private put: Hand[] = [];
  private fields: Field[] = [];

  constructor(
    readonly box: Outbox,
    /** Called when something was typed, with what was in a field, or decided. */
    private readonly ontyped: (act?: Typed) => void,
  ) {}

  /** Tells what lies aside and what waits for a decision. */
  tell() {
    this.aside = this.box.aside;
    const latest = this.box.waiting.filter((s) => this.box.last(s) === s); // of a thing one may be on its way
    this.undecided = latest.flatMap((s) => this.both(s));
  }

  private both(s: Slip): Undecided[] {
    if (s.single?.theirs !== undefined)
      return [
        {
          key: 'words',
          mine: plain(wordsIn(s.act)),
          theirs: plain(s.single.theirs),
          decide: (mine) => this.decide(s, mine),
        },
      ];
    const blocks = s.act.do === 'run' ? (s.act.blocks as Block[]) : [];
    return Object.entries(s.from?.clash ?? {}).map(([key, theirs]) => ({
      key,
      mine: plain(blocks.find((b) => b.key === key)?.html ?? ''),
      theirs: plain(theirs.html ?? ''),
      decide: (mine) => this.decide(s, mine, key),
    }));
  }

  private decide(s: Slip, mine: boolean, key = '') {
    const owner = this.ownerOf(s);
    if (owner instanceof Hand) {
      owner.decide(key, mine);
      this.typeRun(owner, owner.now, s.wish_id, owner.at ?? null); // beside what is on its way
    } else if (owner) {
      owner.decide(mine);
      this.refresh();
      if (!mine) this.box.withdraw(s);
    }
    this.ontyped(owner instanceof Field ? owner.says : undefined);
    this.tell();
  }

  /** Takes the run into hand that a part is in, if it is in one. */
  take(bench: Bench | undefined, part: string | undefined) {
    if (this.hand && part && this.hand.keyOf(part)) return;
    const run = bench && part ? runOf(bench, part) : undefined;
    const left = this.hand ? [...this.put, this.hand] : this.put;
    this.put = left.filter((h) => this.box.waiting.some((w) => w.owner === h.name));
    this.hand = (part && this.takenUp(part)) || (bench && run ? new Hand(bench, run) : undefined);
  }

  /** The run of which something is not kept yet, and that a part is in: typing goes on in it. */
  private takenUp(part: string): Hand | undefined {
    const last = this.box.lastOfRun(part);
    const hand = this.put.find((h) => h.name === last?.owner);
    if (hand) this.put = this.put.filter((h) => h !== hand);
    hand?.takeUp(last!);
    return hand;
  }

  /** Puts the run in hand down as if nobody had taken it. */
  letGo() {
    this.hand = undefined;
  }

  /** Takes a run as it is in the editor; the block that the cursor is in keeps its words until it has others. */
  typeRun(hand: Hand, blocks: Block[], wish: number | undefined, at: string | null) {
    this.box.put({
      act: { do: 'run', blocks: hand.given(blocks, at) as never },
      wish_id: wish,
      owner: hand.name,
      from: hand.from,
    });
  }

  /** A field for one thing of the page: it begins with what was typed last of it. */
  field(bench: Bench, act: Typed): Field {
    const waits = this.box.last({ act });
    let field = this.fields.find((f) => waits && f.name === waits.owner);
    if (!field) {
      field = new Field(act, bench, waits as { act: Typed; single?: Slip['single'] } | undefined, (f, wish) => {
        this.box.put({ act: f.says, wish_id: wish, owner: f.name, single: f.single });
        this.ontyped(f.says);
      });
      if (waits) waits.owner = field.name;
      this.fields.push(field);
    }
    field.open = true;
    return field;
  }

  /** A field is taken away. */
  leave(field: Field) {
    field.open = false;
    this.prune();
  }

  private prune() {
    const waits = (f: { name: string }) => this.box.waiting.some((w) => w.owner === f.name);
    this.fields = this.fields.filter((f) => f.open || waits(f));
    this.put = this.put.filter(waits);
  }

  private ownerOf(s: Slip): Hand | Field | undefined {
    if (!s.owner) return undefined;
    return [this.hand, ...this.put].find((h) => h?.name === s.owner) ?? this.fields.find((f) => f.name === s.owner);
  }

  /** What waits says what its owners hold now. */
  private refresh() {
    for (const w of this.box.waiting.filter((w) => !this.box.isOnWay(w))) {
      const owner = this.ownerOf(w);
      if (owner instanceof Hand)
        [w.act, w.from] = [{ do: 'run', blocks: owner.given(owner.now, owner.at ?? null) as never }, owner.from];
      else if (owner) [w.act, w.single] = [owner.says as Act, owner.single];
    }
    this.box.store();
  }

  /** What was left here by a page that was closed is brought onto the page as it is. */
  begin(bench: Bench) {
    this.boxOnto(bench, (id) => id);
    this.tell();
  }

  /** Brings what nobody has in hand onto a page; where somebody would have to decide, it is set aside. */
  private boxOnto(bench: Bench, to: Names) {
    const owned = (s: Slip) => !!this.ownerOf(s);
    this.box.onto(bench, to, owned);
    for (const s of this.box.waiting.filter((w) => waitsForWord(w) && !owned(w))) this.box.refused(s);
  }

  /** What is typed goes on from what arrived, though no answer came. */
  arrived(bench: Bench) {
    const s = this.box.arrived(bench);
    const sent = s && blocksOf(s);
    const owner = s && this.ownerOf(s);
    if (owner instanceof Hand && sent) owner.arrived(sent);
    else if (owner instanceof Field) owner.arrived(wordsIn(s!.act));
    else if (s)
      for (const w of this.box.like(s)) {
        if (w.from && sent) w.from = arrivedAs(sent, w.from);
        if (w.single) w.single = { was: wordsIn(s.act), has: wordsIn(s.act) };
      }
  }

  /** Something was kept. */
  kept(s: Slip, got: Bench, bench: Bench, to: Names) {
    const owner = this.ownerOf(s);
    this.box.settle(s);
    const sent = blocksOf(s);
    if (owner instanceof Hand && sent) {
      owner.kept(sent, got.keys, bench);
      if (got.whole) owner.onto(bench, (id) => id); // it may stand otherwise than it was asked for
      // Of the rest of it somebody has to decide yet.
      if (owner.from.clash && !this.box.waiting.some((w) => w.owner === owner.name))
        this.typeRun(owner, owner.now, s.wish_id, owner.at ?? null);
    } else if (owner instanceof Field) owner.kept(wordsIn(s.act), bench, to);
    this.onto(bench, to, owner);
  }

  /** The page is another draft. */
  onto(bench: Bench, to: Names, except?: Hand | Field) {
    const lost = (o: Hand | Field) => o !== except && !o.onto(bench, to);
    const gone = [...(this.hand ? [this.hand] : []), ...this.put].filter(lost);
    for (const o of [...gone, ...this.fields.filter(lost)])
      for (const w of this.box.waiting.filter((w) => w.owner === o.name)) {
        delete w.owner;
        this.box.refused(w);
      }
    if (this.hand && gone.includes(this.hand)) this.letGo();
    this.put = this.put.filter((h) => !gone.includes(h));
    this.refresh();
    this.boxOnto(bench, to);
    this.prune();
    this.tell();
  }
}

/** The blocks of a run as they are sent. */
const blocksOf = ({ act, from }: Slip) => (act.do === 'run' && from ? decided(act.blocks as Block[], from) : undefined);
