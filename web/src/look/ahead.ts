import { refuse } from './toast';

/** How long keys wait, in ms, for the field of something that an act on the server brings. */
export const anAct = 20_000;

/** One sign, as it is typed. */
const sign = (k = '') => [...k].length === 1;
const moves = /^(Arrow(Left|Right|Up|Down)|Home|End)$/;

/**
 * Keys that are typed ahead: a place was taken in hand, and the field for its words is not there yet. They act as nothing
 * and are typed when the field comes; where none comes it is said what they were.
 */
export class Ahead {
  private held: string[] | undefined;
  private late: ReturnType<typeof setTimeout> | undefined;
  private asking = false;

  constructor(private tell: (said: string) => void = refuse) {}

  /** A field is on its way, for so many ms at most. What was typed for it already is kept. */
  comes(most = 3000) {
    this.asking = false;
    this.held ??= [];
    clearTimeout(this.late);
    this.late = setTimeout(() => this.goes(), most);
  }

  /** Whether keys are held. */
  get waits() {
    return !!this.held;
  }

  /** Whether it is not known yet for what they are held. */
  get unsure() {
    return this.asking;
  }

  /** Whether a field is on its way is being asked: keys are held until that is known. */
  doubts() {
    this.held = [];
    this.asking = true;
  }

  /** What was asked is known; reports whether a field is on its way, or has come. Where none is, the keys mean what they do. */
  sure(): boolean {
    if (!this.asking) return true;
    this.asking = false;
    this.held = undefined;
    return false;
  }

  /** No field comes, or something else was taken in hand since. */
  goes() {
    if (this.asking) return; // they are for what is taken in hand just now
    const typed = this.here().filter(sign);
    if (typed.length) this.tell(`“${typed.join('')}” was typed before there was a field for it. Please type it again.`);
  }

  /** The field is there: the keys that are to be typed into it; one that moves the cursor with its chord, as in `Ctrl+Shift+End`. */
  here(): string[] {
    clearTimeout(this.late);
    this.asking = false;
    const held = this.held ?? [];
    this.held = undefined;
    return held;
  }

  /** Takes a key that went down before its field was there; reports whether it did. */
  takes(
    e: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'shiftKey' | 'metaKey' | 'altKey' | 'isComposing' | 'getModifierState'>,
  ): boolean {
    if (!this.held || e.isComposing) return false;
    if (e.key === 'Escape') {
      this.goes();
      return false;
    }
    const third = e.getModifierState('AltGraph');
    if (!third && !e.metaKey && !e.altKey && (moves.test(e.key) || (e.ctrlKey && e.key === 'a'))) {
      this.held.push(`${e.ctrlKey ? 'Ctrl+' : ''}${e.shiftKey ? 'Shift+' : ''}${e.key}`);
      return true;
    }
    if (e.metaKey || (!third && (e.ctrlKey || e.altKey))) return false;
    if (sign(e.key)) this.held.push(e.key);
    else if (e.key === 'Backspace' && sign(this.held.at(-1))) this.held.pop();
    else if (e.key === 'Enter') this.held.push(e.shiftKey ? 'Shift+Enter' : 'Enter');
    else if (['Backspace', 'Delete'].includes(e.key)) this.held.push(e.key);
    else return false;
    return true;
  }
}

export const ahead = new Ahead();
