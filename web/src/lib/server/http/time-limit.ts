const MINUTE = 60_000;

/** How long an answer may be waited for, milliseconds: what reads or writes files takes long in good order. */
const LIMITS: [RegExp, number][] = [
  [/^\/api\/v1\/uploads/, 120 * MINUTE],
  [/^\/api\/v1\/(imports|exports)/, 20 * MINUTE],
  // These give up by themselves before.
  [/^\/api\/v1\/(price|implied-volatility|surface|realized-volatility|tables|hedges|structures)/, 5 * MINUTE],
];

/** Time within which a request is answered, milliseconds. */
export const timeLimitOf = (pathname: string): number =>
  LIMITS.find(([places]) => places.test(pathname))?.[1] ?? 2 * MINUTE;
