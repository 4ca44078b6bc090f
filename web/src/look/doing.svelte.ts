import { complain } from './toast';

/** What somebody sets going by a press: while it is under way nothing else is, and what goes wrong is said. */
export class Doing {
  busy = $state(false);

  run = async (act: () => Promise<unknown>) => {
    this.busy = true;
    try {
      await act();
    } catch (e) {
      complain(e);
    } finally {
      this.busy = false;
    }
  };
}
