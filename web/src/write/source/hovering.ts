import type { Transaction } from '@codemirror/state';
import type { Tooltip } from '@codemirror/view';

/** What is shown over words under the pointer goes when these words change; what is typed elsewhere leaves it. */
export const goesWithWords = {
  hideOn: ({ changes }: Transaction, { pos, end }: Tooltip) => changes.touchesRange(pos, end ?? pos) !== false,
};
