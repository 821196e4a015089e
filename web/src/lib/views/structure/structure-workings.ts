import { figureText, type FigureScale, type Unit, type Workings } from '../../measures/index.ts';
import { dateText, signedText, strikeText } from '../../ui/format.ts';
import type { FiguredStructure } from './figured-structure.ts';
import { FIGURES, type StructureFigure } from './structure-figure-definitions.ts';
import { measureText } from './structure-measure.ts';

const PREFIX = 'structure~';
/** Identifier of a figure of a structure. */
export const structureFigureId = (id: string) => PREFIX + id;

/** A figure as it is shown. */
export interface ShownFigure {
  id: string;
  label: string;
  text: string;
}

const NO_END = new Set(['most', 'lost']);

/** Figures as they stand in the panel, in their order. */
export function shownFigures(
  s: FiguredStructure,
  scale: FigureScale,
  o: { /** Beside others: a cost that is brought in is below nothing, under one label */ isSigned?: boolean } = {},
): ShownFigure[] {
  return FIGURES.filter(({ isShown }) => o.isSigned || (isShown?.(s) ?? true)).map((figure) => ({
    id: structureFigureId(figure.id),
    label:
      typeof figure.label === 'string'
        ? figure.label
        : o.isSigned
          ? (figure.labelBeside ?? figure.id)
          : figure.label(s),
    text: o.isSigned && figure.id === 'cost' ? figureText(s.sums.cost, 'money', scale) : shownText(figure, s, scale),
  }));
}

/** Value and unit of a figure. */
export function structureFigureValue(id: string, s: FiguredStructure): { value: number | null; unit: Unit } {
  const figure = FIGURES.find((f) => f.id === id);
  return { value: figure?.value(s) ?? null, unit: figure?.measure ? 'money' : (figure?.unit ?? 'count') };
}

function shownText(figure: StructureFigure, s: FiguredStructure, scale: FigureScale): string {
  const value = figure.value(s);
  if (value === null) return s.front && NO_END.has(figure.id) ? 'no end' : '—';
  if (figure.measure) return measureText(value, figure.measure);
  if (figure.id === 'cost') return figureText(Math.abs(value), 'money', scale);
  if (figure.unit === 'factor') return signedText(value, 2).replace('+', '');
  if (figure.unit === 'points') return `${figureText(value, 'points', scale)} points`;
  if (figure.unit === 'share') return `${figureText(value, 'share', scale)} %`;
  return figureText(value, figure.unit, scale);
}

/** How a figure of a structure comes about. */
export function explainStructureFigure(s: FiguredStructure, id: string): Workings | undefined {
  const figure = FIGURES.find((f) => structureFigureId(f.id) === id);
  if (!figure) return undefined;
  const { definition, formula, source, absence, unit, legs } = figure;
  return {
    ...{ id, definition, formula, source, absence, unit },
    label: typeof figure.label === 'string' ? figure.label : figure.label(s),
    subject: `${s.symbol}, ${s.scene.legs.length} legs`,
    value: figure.value(s),
    intermediate: [],
    inputs: figure.inputs(s),
    ...(legs && s.scene.legs.length > 0
      ? {
          series: [
            {
              label: `legs: ${s.scene.legs.map(({ leg }) => `${signedText(leg.ratio, 0)} ${dateText(leg.expiry, s.asOf)} ${strikeText(leg.strike)} ${leg.side}`).join('; ')}`,
              source: 'quotes of the picture, and theory by the volatility in force',
              columns: [
                { symbol: 'q', label: 'contracts', unit: 'count' as const },
                { symbol: 'K', label: 'strike', unit: 'price' as const },
                ...legs.map(({ symbol, label, unit: of }) => ({ symbol, label, unit: of })),
              ],
              rows: s.scene.legs.map((leg) => [leg.leg.ratio, leg.leg.strike, ...legs.map(({ of }) => of(leg))]),
            },
          ],
        }
      : {}),
  };
}
