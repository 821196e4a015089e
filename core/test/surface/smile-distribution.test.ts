import { expect, test } from 'vitest';
import {
  expectedAbsoluteMove,
  probabilityAbove,
  riskNeutralDensity,
  type SviRawParameters,
  sviRawSmile,
} from '../../src/surface/index.ts';
import { loadReference } from '../reference/load.ts';

test('probability, density and expected move of a smile agree with mpmath (risk-neutral-density.json)', () => {
  interface Row {
    forward: number;
    years: number;
    parameters: SviRawParameters;
    points: { strike: number; probabilityAbove: number; density: number }[];
    expectedAbsoluteMove: number;
  }
  for (const c of loadReference<Row>('risk-neutral-density.json').cases) {
    const smile = sviRawSmile(c.parameters, c.years);
    for (const p of c.points) {
      const name = `${c.forward} ${p.strike}`;
      const k = Math.log(p.strike / c.forward);
      expect(Math.abs(probabilityAbove(smile, k) / p.probabilityAbove - 1), name).toBeLessThan(1e-12);
      expect(Math.abs(riskNeutralDensity(smile, c.forward, p.strike) / p.density - 1), name).toBeLessThan(1e-12);
    }
    expect(Math.abs(expectedAbsoluteMove(smile, c.forward) / c.expectedAbsoluteMove - 1)).toBeLessThan(1e-12);
  }
});
