import { answer, api, type Schemas, words } from '../../../api/client';
import { around, type Point, type Rect, type Size, type Stand, stood } from './geometry';
import { type Lay, layOf, putAct, type Where } from './lay';
import { type Place, wanted, widest } from './places';

/** Where a picture comes from: the request, or a file of the site. */
export type From = { attachment_id: number; path?: undefined } | { path: string; attachment_id?: undefined };

const pause = 350; // ms without another change, after which is asked what comes of it

/** A picture that is being chosen for a place on the page, and worked on. Nothing is kept before it is taken. */
export class Picking {
  from = $state.raw<From>({ attachment_id: 0 });
  /** As it came, and as it would go out. */
  told = $state.raw<Schemas['PictureTold'] | undefined>();
  problem = $state('');
  asking = $state(false);
  turn = $state<Stand['turn']>(0);
  flip = $state<Stand['flip']>('');
  straighten = $state(0);
  /** Cut to the shape of its place, by hand, or not at all. */
  cut = $state<'place' | 'free' | 'whole'>('place');
  focus = $state.raw<Point>({ x: 0.5, y: 0.5 });
  /** A part that was drawn by hand. */
  byHand = $state.raw<Rect | undefined>();
  width = $state<number | undefined>();
  format = $state<'' | 'jpeg' | 'webp'>('');
  alt = $state('');
  share = $state(true);
  /** Its file is replaced under its address, wherever it is shown. */
  everywhere = $state(false);
  /** Another picture for narrow screens; none: the same one, cut to the shape there. */
  narrow = $state.raw<From | undefined>();
  /** How a picture that was not there before lies among the words. */
  lay = $state.raw<Lay>({ side: '', percent: 0, caption: '', title: '', link: '' });
  /** It says nothing that words could say. */
  ornament = $state(false);
  private timer: ReturnType<typeof setTimeout> | undefined;
  private asked = 0;

  constructor(
    readonly number: number,
    readonly page: number,
    readonly part: Schemas['Part'],
    /** How large its place is; known once it is measured. */
    readonly places: () => Place[] | undefined,
    made: Schemas['PictureAct'] | Schemas['PutPictureAct'] | undefined,
    from: From | undefined,
    /** It is put below the part, or it is one that was put in so and is made otherwise; none: it takes the part's place. */
    readonly put?: 'new' | 'again',
    readonly where: Where = 'after',
  ) {
    this.alt = put === 'new' ? '' : part.alt;
    if (from) this.from = from;
    if (put === 'new') this.cut = 'whole';
    if (!made) return;
    if (made.do === 'put-picture') this.lay = layOf(made);
    if ((made.attachment_id ?? made.path) === (from?.attachment_id ?? from?.path)) this.again(made);
  }

  /** Nothing is chosen yet. */
  get empty() {
    return !this.from.attachment_id && !this.from.path;
  }
  /** What is to be seen on it is said, or there is nothing to say. */
  get says() {
    return !this.put || !!this.alt.trim() || this.ornament;
  }

  /** Takes up what was done to the picture before. */
  private again(made: Schemas['PictureAct'] | Schemas['PutPictureAct']) {
    const w = made.work ?? {};
    this.turn = w.turn ?? 0;
    this.flip = w.flip ?? '';
    this.straighten = w.straighten ?? 0;
    this.byHand = w.crop;
    this.cut = w.shape ? 'place' : w.crop ? 'free' : 'whole';
    if (w.focus) this.focus = w.focus;
    this.width = w.width || undefined;
    this.format = w.format === 'png' ? '' : (w.format ?? '');
    if (made.do === 'put-picture') {
      this.ornament = !made.alt;
      return;
    }
    this.share = !!made.share;
    this.everywhere = !!made.everywhere;
    this.narrow = (made.narrow as From | undefined) ?? undefined;
  }

  get size(): Size {
    return { width: this.told?.width ?? 0, height: this.told?.height ?? 0 };
  }
  /** A drawing or a moving picture goes out as it came. */
  get fixed() {
    return !!this.told && (this.told.animated || ['image/svg+xml', 'image/avif'].includes(this.told.media));
  }
  get stand(): Stand {
    return { turn: this.turn, flip: this.flip, straighten: this.straighten };
  }
  /** The size of the picture as it stands before it is cut. */
  get whole(): Size {
    return stood(this.size, this.stand);
  }
  /** The shape that it is cut to. */
  get shape(): Size | undefined {
    const place = widest(this.places());
    return this.cut === 'place' && place ? { width: place.width, height: place.height } : undefined;
  }
  /** What is kept of it. */
  get kept(): Rect {
    const all = this.whole;
    if (this.cut === 'whole' || !all.width) return { x: 0, y: 0, ...all };
    if (this.byHand) return this.byHand;
    return this.shape ? around(all, this.shape, this.focus) : { x: 0, y: 0, ...all };
  }
  /** How many points wide it goes out: twice as many as it is shown wide. */
  get wide(): number {
    const want = this.width ?? (wanted(this.places()) || 2000);
    return Math.min(want, this.kept.width || want);
  }

  get work(): Schemas['PictureWork'] {
    if (this.fixed) return {};
    const w: Schemas['PictureWork'] = {};
    if (this.turn) w.turn = this.turn;
    if (this.flip) w.flip = this.flip;
    if (this.straighten) w.straighten = this.straighten;
    if (this.cut !== 'whole' && this.byHand) w.crop = this.byHand;
    else if (this.shape) [w.shape, w.focus] = [`${this.shape.width}:${this.shape.height}`, this.focus];
    if (this.wide < this.kept.width) w.width = this.wide;
    if (this.format) w.format = this.format;
    return w;
  }

  get act(): Schemas['PictureAct'] | Schemas['PutPictureAct'] {
    if (this.put) {
      const says = this.ornament ? '' : this.alt;
      return putAct(this.part.id, this.put, this.from, this.work, says, this.lay, this.where);
    }
    const place = widest(this.places());
    return {
      do: 'picture',
      part: this.part.id,
      ...this.from,
      work: this.work,
      ...(this.part.picture?.background ? {} : { alt: this.alt }),
      ...(place?.own ? { shape: { width: place.width, height: place.height, fit: place.fit as 'fill' } } : {}),
      ...(this.everywhere ? { everywhere: true } : {}),
      ...(!this.everywhere && this.narrow && this.part.picture?.narrow ? { narrow: { ...this.narrow } } : {}),
      ...(!this.everywhere && this.share && this.part.picture?.share ? { share: true } : {}),
    };
  }

  /** Chooses another picture for the same place; what was done to the one before is not done to it. */
  choose(from: From) {
    this.from = from;
    this.told = undefined;
    [this.turn, this.flip, this.straighten, this.cut] = [0, '', 0, this.put ? 'whole' : 'place'];
    [this.byHand, this.focus, this.width, this.format] = [undefined, { x: 0.5, y: 0.5 }, undefined, ''];
    void this.ask();
  }

  /** Turns by a quarter; what was drawn by hand is drawn again. */
  quarter(by: 1 | -1) {
    this.turn = ((((this.turn + by * 90) % 360) + 360) % 360) as Stand['turn'];
    this.changed(true);
  }
  mirror() {
    this.flip = this.flip === 'horizontal' ? '' : 'horizontal';
    this.changed(true);
  }
  /** Something was changed: after a moment is asked what comes of it. */
  changed(again = false) {
    if (again) this.byHand = undefined;
    clearTimeout(this.timer);
    this.asking = true;
    this.timer = setTimeout(() => void this.ask(), pause);
  }

  async ask(): Promise<void> {
    clearTimeout(this.timer);
    if (this.empty) return;
    const n = ++this.asked;
    const act = this.act;
    this.asking = true;
    try {
      const told = await answer(
        api.POST('/requests/{number}/bench/{page}/picture', {
          params: { path: { number: this.number, page: this.page } },
          body: act,
        }),
      );
      if (n !== this.asked) return;
      [this.told, this.problem] = [told, ''];
      if (JSON.stringify(this.act) !== JSON.stringify(act)) return await this.ask(); // its size was not known before
    } catch (e) {
      if (n === this.asked) this.problem = words(e);
    }
    if (n === this.asked) this.asking = false;
  }

  close() {
    clearTimeout(this.timer);
    this.asked++;
  }
}

/** Where a small picture of one that can be chosen is. */
export function small(number: number, from: From, size: 160 | 320 | 1600): string {
  const which = from.attachment_id ? `attachment_id=${from.attachment_id}` : `path=${encodeURIComponent(from.path!)}`;
  return `/api/requests/${number}/pictures/small?${which}&size=${size}`;
}
