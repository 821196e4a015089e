import { erfCentre } from './erfcx.ts';

/*
 * Exponential, logarithm and scaled complementary error function from small tables with short polynomials. In this
 * engine they take a half to a quarter of the time of Math.exp and Math.log and never branch, so a batch over columns
 * flows without stalls. All three are unchecked and meant for kernels that keep their arguments in range.
 * Method: Tang, P. T. P. (1989). Table-driven implementation of the exponential function in IEEE floating-point
 * arithmetic. ACM Transactions on Mathematical Software 15(2), 144-157.
 */

/** 2^(i - 1023); the ends stay 0 and Infinity so that no index leaves the table. */
const POWER_OF_TWO = Float64Array.from({ length: 2048 }, (_, i) => (i === 0 ? 0 : 2 ** (i - 1023)));
const EXP_STEPS = 256;
const ROOT_OF_TWO = Float64Array.from({ length: EXP_STEPS }, (_, i) => 2 ** (i / EXP_STEPS));
/** 1.5 x 2^52: adding it and taking it away rounds to the nearest integer. */
const ROUNDER = 6755399441055744;
const STEPS_PER_UNIT = 369.32993046757463;
/** ln 2 / 256 in two parts, the first short enough for an exact product with the step number. */
const STEP_HEAD = 0.00270760617331689;
const STEP_TAIL = 7.453964567463233e-13;

/**
 * e^x for -700 <= x <= 700. Relative error below 4e-16.
 */
export function tableExp(x: number): number {
  const rounded = x * STEPS_PER_UNIT + ROUNDER - ROUNDER;
  const k = rounded | 0;
  const r = x - rounded * STEP_HEAD - rounded * STEP_TAIL;
  const r2 = r * r;
  return (
    ROOT_OF_TWO[k & 255] *
    POWER_OF_TWO[(k >> 8) + 1023] *
    (1 + (r + r2 * (0.5 + r * (1 / 6)) + r2 * r2 * (1 / 24 + r * (1 / 120))))
  );
}

const LOG_STEPS = 256;
/** 1 / c and ln c at the middle c of the parts of [1, 2); the first part is taken at 1, so that ln is exact just above. */
const LOG_INVERSE = Float64Array.from({ length: LOG_STEPS }, (_, i) => (i === 0 ? 1 : 1 / (1 + (i + 0.5) / LOG_STEPS)));
const LOG_VALUE = LOG_INVERSE.map((inverse) => (inverse === 1 ? 0 : -Math.log(inverse)));
const BITS = new Float64Array(1);
const WORDS = new Int32Array(BITS.buffer);
const HIGH = new Uint8Array(new Uint16Array([1]).buffer)[0] === 1 ? 1 : 0;
const LN_2 = 0.6931471805599453;

/**
 * ln x for normal positive x. Absolute error below 3e-16 for x between 1/2 and 2, else relative below 3e-16.
 */
export function tableLog(x: number): number {
  BITS[0] = x;
  const high = WORDS[HIGH];
  const exponent = (high >> 20) - 1023;
  const i = (high >> 12) & 255;
  const r = x * POWER_OF_TWO[1023 - exponent] * LOG_INVERSE[i] - 1;
  const r2 = r * r;
  return (
    exponent * LN_2 +
    (LOG_VALUE[i] +
      (r + r2 * (-0.5 + r * (1 / 3)) + r2 * r2 * (-0.25 + r * 0.2) + r2 * r2 * r2 * (-1 / 6 + r * (1 / 7))))
  );
}

/** 64 parts a unit: the seventh derivative of erfcx, at most 433, then leaves an error of 3e-18 on each part. */
const PARTS_PER_UNIT = 64;
/** Degree 6, seven coefficients a part. */
const NODES = 7;
/** Arguments end here; 40 standard deviations are 28.3. */
const ERFCX_END = 29;
const INVERSE_SQRT_PI = 0.56418958354775628695;
const ERFCX = chebyshevTable((z) => erfcxAndSlope(z).value);
const ERFCX_SLOPE = chebyshevTable((z) => erfcxAndSlope(z).slope);

/** Power series in y from -1 to 1 of the Chebyshev interpolant on each part. */
function chebyshevTable(f: (z: number) => number): Float64Array {
  const table = new Float64Array(ERFCX_END * PARTS_PER_UNIT * NODES);
  const cosines = Array.from({ length: NODES }, (_, d) =>
    Array.from({ length: NODES }, (_v, a) => Math.cos((Math.PI * d * (a + 0.5)) / NODES)),
  );
  for (let part = 0; part < ERFCX_END * PARTS_PER_UNIT; part++) {
    const values = cosines[1].map((y) => f((part + 0.5 + 0.5 * y) / PARTS_PER_UNIT));
    const c = cosines.map(
      (row, d) => (row.reduce((sum, cosine, a) => sum + values[a] * cosine, 0) * (d === 0 ? 1 : 2)) / NODES,
    );
    const powers = [
      c[0] - c[2] + c[4] - c[6],
      c[1] - 3 * c[3] + 5 * c[5],
      2 * c[2] - 8 * c[4] + 18 * c[6],
      4 * c[3] - 20 * c[5],
      8 * c[4] - 48 * c[6],
      16 * c[5],
      32 * c[6],
    ];
    table.set(powers, part * NODES);
  }
  return table;
}

/**
 * erfcx and its negative derivative to 3e-16: from 0.47 by the continued fraction (Abramowitz & Stegun 1964, formula
 * 7.1.14) backward, where every term is positive and earlier rounding dies out; its length makes the truncation
 * negligible.
 */
function erfcxAndSlope(z: number): { value: number; slope: number } {
  if (z < 0.46875) {
    const value = (1 - erfCentre(z)) * Math.exp(z * z);
    return { value, slope: 2 * (INVERSE_SQRT_PI - z * value) };
  }
  const length = Math.min(900, Math.ceil(8 + 260 / (z * z)));
  let tail = Math.sqrt(0.5 * length);
  for (let n = length; n >= 1; n--) tail = (0.5 * n) / (z + tail);
  return { value: INVERSE_SQRT_PI / (z + tail), slope: (2 * INVERSE_SQRT_PI * tail) / (z + tail) };
}

/**
 * exp(z^2) erfc(z) for 0 <= z < 29. Relative error below 1e-15.
 */
export function tableErfcx(z: number): number {
  const scaled = z * PARTS_PER_UNIT;
  const part = scaled | 0;
  const y = 2 * (scaled - part) - 1;
  const k = part * NODES;
  const y2 = y * y;
  return (
    ERFCX[k] +
    ERFCX[k + 1] * y +
    y2 * (ERFCX[k + 2] + ERFCX[k + 3] * y + y2 * (ERFCX[k + 4] + ERFCX[k + 5] * y + y2 * ERFCX[k + 6]))
  );
}

/**
 * -d/dz of exp(z^2) erfc(z) for 0 <= z < 29, positive. Relative error below 2e-15.
 */
export function tableErfcxSlope(z: number): number {
  const scaled = z * PARTS_PER_UNIT;
  const part = scaled | 0;
  const y = 2 * (scaled - part) - 1;
  const k = part * NODES;
  const y2 = y * y;
  return (
    ERFCX_SLOPE[k] +
    ERFCX_SLOPE[k + 1] * y +
    y2 *
      (ERFCX_SLOPE[k + 2] +
        ERFCX_SLOPE[k + 3] * y +
        y2 * (ERFCX_SLOPE[k + 4] + ERFCX_SLOPE[k + 5] * y + y2 * ERFCX_SLOPE[k + 6]))
  );
}

/**
 * erfcx(z - u) - erfcx(z + u) for 0 <= z < 28 and 0 <= u <= 0.0145, without the cancellation of the plain difference:
 * its Taylor series about z, the leading term from its own table, the others (each at most 1e-4 of the one before)
 * from the recurrence E^(n+1) = 2 z E^(n) + 2 n E^(n-1). Relative error below 2e-15.
 */
export function tableErfcxDifference(z: number, u: number): number {
  const e0 = tableErfcx(z);
  const e1 = -tableErfcxSlope(z);
  const w = 2 * z;
  const e2 = 2 * e0 + w * e1;
  const e3 = 4 * e1 + w * e2;
  const e4 = 6 * e2 + w * e3;
  const e5 = 8 * e3 + w * e4;
  const e6 = 10 * e4 + w * e5;
  const e7 = 12 * e5 + w * e6;
  const u2 = u * u;
  return -2 * u * (e1 + u2 * (e3 * (1 / 6) + u2 * (e5 * (1 / 120) + u2 * e7 * (1 / 5040))));
}
