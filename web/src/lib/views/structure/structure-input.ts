import type { MarketShift } from '@umwelt/core/structure';
import type { Picture } from '../../api/picture.ts';
import type { TradedLegText } from '../../api/traded.ts';
import type { ListedValue } from '../../theory/index.ts';
import type { PaidLeg, TakenAt } from './parameters.ts';
import type { MeasureScale } from './structure-measure.ts';
import { structureScene, type StructureScene } from './structure-scene.ts';

/** A structure and its market, plain, so that it can be looked at off the interface thread. */
export interface StructureInput {
  picture: Picture;
  legs: readonly TradedLegText[];
  held: number;
  paid: readonly PaidLeg[];
  take: TakenAt;
  /** Of the legs by theory, in their order */
  values: readonly (ListedValue | undefined)[];
  /** Of expiries that have ended, by date */
  settlements: ReadonlyMap<string, number | null>;
  shift: MarketShift | undefined;
  scale: MeasureScale;
}

export const sceneOf = ({ picture, legs, ...o }: StructureInput): StructureScene => structureScene(picture, legs, o);
