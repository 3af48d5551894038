import { lazy } from 'react';
import type { NotPassedOnBody } from '../api/client';
import { kind } from './editing/kind';

/** A cost that waited is not to be billed. */
export const notPassedOn = kind<NotPassedOnBody>({
  id: 'cost not passed on',
  path: '/api/v1/costs/not-passed-on',
  title: () => 'Costs not to be billed',
  lead: () => 'Costs that waited to be passed on and stay ours, with a reason.',
  hint: 'Choose the costs and say why: the entry, where there is one, is shown here before anything is written.',
  says: [{ says: 'A cost is not to be billed', leads: 'costs not to be billed', words: 'not pass on cost waive keep ours' }],
  blank: (given, known) => ({
    day: given.day,
    reason: '',
    costs: known.costs ? given.costs.map((c) => ({ paper: c.paper, line: c.line, amount: '' })) : [],
  }),
  quiet: (b) => [...(b.reason ? [] : ['reason']), ...(b.costs?.length ? [] : ['costs'])],
  Fields: lazy(() => import('./NotPassedOnFields')),
});
