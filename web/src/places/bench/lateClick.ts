import { ahead } from '../../look/ahead';
import type { Click } from './frame';

const longest = 6000; // ms that a click waits for a page that is coming

/** A click whose meaning is known only later: the page is being renewed, or shows more than is known outside. */
export class LateClick {
  private click: Click | undefined;

  /** `make` makes a click on the page that is there. */
  constructor(private readonly make: (at: Click) => void) {}

  get waits() {
    return !!this.click;
  }

  /** Waits; what is typed meanwhile is meant for what was clicked, not for what was in hand. */
  wait(click: Click) {
    this.click = click;
    (document.activeElement as HTMLElement | null)?.blur();
    ahead.comes(2 * longest);
    setTimeout(() => this.click === click && this.again(), longest);
  }

  /** The page is there, or the names of its parts are known: it is made again. */
  again() {
    const { click } = this;
    this.drop();
    if (click) this.make(click);
  }

  /** It was understood, or something else was taken in hand since. */
  drop() {
    this.click = undefined;
  }
}
