/** Two pages side by side that are scrolled together: whoever is scrolled first leads, and the other one's echo is not
 * followed. */
export class Together<Who extends string> {
  private leads: Who | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** Reports whether the other one is to follow. */
  scrolled(who: Who): boolean {
    if (this.leads && this.leads !== who) return false;
    this.leads = who;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => (this.leads = undefined), echo);
    return true;
  }
}

const echo = 150; // ms within which the other one says that it was scrolled
