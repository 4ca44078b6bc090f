import type { Schemas } from '../../api/client';

/** Whether somebody else's edit stands in the way of a release; what puts one back is settled where it stands. */
export const inTheWay = (r: Schemas['Release']) => !r.undoes && r.steps.some((s) => s.state === 'failed');
