import { describedSmile, termVolatility, VolatilitySurface } from '@umwelt/core/surface';
import type { LevelChoice } from '../../api/level.ts';
import { TENOR_DAYS } from '../../market/index.ts';
import type { LevelMeasures } from './level-input.ts';
import { sessionDate } from './session-date.ts';

/** At the money at a number of days, between those that are kept. */
export function atmAt({ atmByTenor }: Pick<LevelMeasures, 'atmByTenor'>, days: number): number {
  const points = TENOR_DAYS.flatMap((tenor, i) =>
    Number.isNaN(atmByTenor[i]) ? [] : [{ timeToExpiry: tenor / 365, volatility: atmByTenor[i] }],
  );
  return termVolatility(points, days / 365);
}

/** The implied volatility that is asked for, as it stood; NaN where it is not known. */
export function impliedBy(choice: LevelChoice, o: { zone: string; expiry: string | undefined }) {
  const { implied, days, delta, withoutEvents } = choice;
  return (m: LevelMeasures): number => {
    switch (implied) {
      case 'index':
        return m.index30 ?? NaN;
      case 'atm':
        // What an event adds is kept at 30 days alone.
        if (withoutEvents === 'yes') return days === 30 ? (m.exEvent30 ?? NaN) : NaN;
        return atmAt(m, days);
      case 'put':
      case 'call':
        return surfaceOf(m)?.volatilityAt(days / 365, { side: implied, delta }) ?? NaN;
      case 'expiry': {
        const own = m.smiles?.find((s) => sessionDate(new Date(s.expiry), o.zone) === o.expiry);
        if (!own) return NaN;
        return Math.sqrt(describedSmile(own.smile, own.years).totalVariance(0) / own.years);
      }
    }
  };
}

/** Calendar days that it speaks of. */
export function impliedDays({ implied, days }: LevelChoice, expiryDays: number | undefined): number {
  if (implied === 'index') return 30;
  return implied === 'expiry' ? (expiryDays ?? 30) : days;
}

function surfaceOf({ smiles = [], underlyingPrice }: LevelMeasures): VolatilitySurface | undefined {
  const fitted = smiles.map(({ smile, years, forward }) => ({ smile: describedSmile(smile, years), forward }));
  return fitted.length > 0 ? new VolatilitySurface(fitted, { spot: underlyingPrice }) : undefined;
}
