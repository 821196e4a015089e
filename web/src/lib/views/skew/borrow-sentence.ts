import { dateText, instantLabel, pointsText } from '../../ui/format.ts';
import type { BorrowState } from '../../api/borrow.ts';
import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import type { Sentence } from '../../shell/reading/sentence.ts';

/** Whose smile is borrowed, of which expiry, at which level; or why none is. */
export function borrowSentence(
  picture: Picture,
  focus: ExpiryPicture | undefined,
  { link, chain, trouble, isStale, donorAsOf }: BorrowState,
): Sentence {
  switch (trouble) {
    case 'donor-missing':
      return [
        `The smile of ${chain[chain.length - 1]} is to be borrowed, but nothing of it is stored: import it, or choose another donor.`,
      ];
    case 'donor-without-quotes':
      return [
        `The smile of ${chain[chain.length - 1]} is to be borrowed, but it has no quotes at or before this instant.`,
      ];
    case 'cycle':
      return [`The chain ${chain.join(', ')} leads back on itself, so no smile is borrowed: choose another donor.`];
    case null:
      break;
  }
  const what = link.kind === 'shape' ? 'shape' : 'whole smile';
  const through = chain.length > 1 ? `, which itself borrows from ${chain.slice(1).join(', ')}` : '';
  const parts: Sentence = [`The ${what} of ${link.donor} is borrowed${through}`];
  const borrowed = focus?.borrowed;
  if (focus && borrowed) {
    const shift = borrowed.steps[borrowed.steps.length - 1].shift;
    parts.push(
      `; for ${dateText(focus.date, picture.asOf)} it is that of ${borrowed.isOtherDate ? `the nearest expiry, ${dateText(borrowed.donorExpiry, picture.asOf)}` : 'the same date'}, ${link.shift === null ? 'fitted by' : 'moved by'} ${pointsText(shift, 2)} points`,
    );
  } else if (focus) parts.push(`; ${dateText(focus.date, picture.asOf)} finds no smile there`);
  if (isStale && donorAsOf) parts.push(`. Its quotes are older: ${instantLabel(donorAsOf)}`);
  parts.push('. Theory follows it when the assumptions say "borrowed".');
  return parts;
}
