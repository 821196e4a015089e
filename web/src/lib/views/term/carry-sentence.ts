import { dateText, numberText, signedText } from '../../ui/format.ts';
import { figureId } from '../../measures/index.ts';
import type { Overview } from '../../api/picture.ts';
import type { Sentence, SentencePart } from '../../shell/reading/sentence.ts';

/** Borrow and financing smaller than this a year are as good as none. */
const NONE = 0.0005;

/** What the quotes imply of financing, borrow and dividends, where what is known does not explain them. */
export function carrySentence({ carry, asOf }: Overview): Sentence | undefined {
  const { inferred } = carry;
  if (!inferred) return undefined;
  const { financing, borrow, drift, hasCurve, areToldApart, dividends } = inferred;
  const parts: SentencePart[][] = [];
  const percent = (value: number, error: number) => `${numberText(100 * value, 2)} ± ${numberText(100 * error, 2)} %`;
  if (areToldApart) {
    const isFinanced = !hasCurve || Math.abs(financing.value) > Math.max(NONE, 2 * financing.error);
    if (isFinanced) {
      const text = hasCurve
        ? `${signedText(100 * financing.value, 2)} ± ${numberText(100 * financing.error, 2)} points`
        : percent(financing.value, financing.error);
      parts.push([hasCurve ? 'financing beside the curve of ' : 'a rate of ', { figure: 'implied-financing', text }]);
    }
    if (Math.abs(borrow.value) > Math.max(NONE, 2 * borrow.error))
      parts.push([
        borrow.value > 0 ? 'a yield or cost to borrow of ' : 'a yield below nothing of ',
        { figure: 'implied-borrow', text: percent(borrow.value, borrow.error) },
      ]);
  } else
    parts.push([
      `${hasCurve ? 'financing beside the curve' : 'a rate'} less borrow of `,
      { figure: 'implied-drift', text: percent(drift.value, drift.error) },
      ', which of the two they do not tell',
    ]);
  dividends.forEach(({ amount, instant, days, to }) => {
    const error = Math.max(1, Math.round(days));
    parts.push([
      'a dividend of ',
      {
        figure: figureId('impliedDividend', to),
        text: `${numberText(amount.value, 2)} ± ${numberText(amount.error, 2)}`,
      },
      ` about ${dateText(instant.slice(0, 10), asOf)} (± ${error} ${error === 1 ? 'day' : 'days'})`,
    ]);
  });
  if (parts.length === 0) return undefined;
  const list = parts.flatMap((part, i) => [i === 0 ? '' : i === parts.length - 1 ? ' and ' : ', ', ...part]);
  return ['What is known does not explain these American quotes. They imply ', ...list, '.'];
}
