/**
 * Nodes and weights of the Gauss-Legendre rule on [-1, 1], nodes ascending.
 * @param count number of nodes, at least 1
 * @see Press, W. H., Teukolsky, S. A., Vetterling, W. T. & Flannery, B. P. (2007). Numerical Recipes, 3rd ed., section
 *   4.6 (Newton's method on the Legendre polynomial from Chebyshev's guess).
 */
export function gaussLegendre(count: number): { nodes: Float64Array; weights: Float64Array } {
  const nodes = new Float64Array(count);
  const weights = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    let x = -Math.cos((Math.PI * (i + 0.75)) / (count + 0.5));
    let slope = 0;
    // Newton doubles the digits of a guess that is good to a few: four rounds reach rounding, two more are for safety.
    for (let round = 0; round < 6; round++) {
      let previous = 1;
      let value = x;
      for (let k = 2; k <= count; k++) {
        const next = ((2 * k - 1) * x * value - (k - 1) * previous) / k;
        previous = value;
        value = next;
      }
      slope = (count * (x * value - previous)) / (x * x - 1);
      x -= value / slope;
    }
    nodes[i] = x;
    weights[i] = 2 / ((1 - x * x) * slope * slope);
  }
  return { nodes, weights };
}
