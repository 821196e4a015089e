import { normalCdf, normalDensity } from '@umwelt/core/math';

/**
 * What a closed form gives: its value, null where one of its inputs is unknown, and the intermediate ones in the order in
 * which they stand.
 */
export interface Evaluated {
  value: number | null;
  intermediate: Intermediate[];
}

/** What a closed form defines on its way: `d₂ = d₁ − σ √T`. */
export interface Intermediate {
  symbol: string;
  expression: string;
  value: number | null;
}

/** By symbol; null where it is unknown. */
export type SymbolValues = ReadonlyMap<string, number | null>;

type Evaluate = (of: (symbol: string) => number) => number;

const FUNCTIONS: Readonly<Record<string, (x: number) => number>> = { N: normalCdf, n: normalDensity, ln: Math.log };
const EXTREMES: Readonly<Record<string, (a: number, b: number) => number>> = { max: Math.max, min: Math.min };
const SUPERSCRIPTS: readonly [string, number][] = [
  ['⁻¹', -1],
  ['⁻²', -2],
  ['²', 2],
  ['³', 3],
];
/** Stands for the number at the end of symbols that a sum runs over. */
const INDEX = 'ⱼ';

/** The number as it stands at the end of a symbol. */
export function subscript(n: number): string {
  return String(n).replace(/\d/g, (digit) => '₀₁₂₃₄₅₆₇₈₉'[Number(digit)]);
}

/**
 * Value of a closed form as it is written for readers, so that what is shown is what is computed: `√(w / T), w = σ² T`.
 * Names are the symbols of the inputs. What comes after a comma defines a name that stands before it. Beside + − · / and powers
 * it knows √, ln, e, N and n of the normal distribution, max, min and sums: `Σ mⱼ²` runs over m₁, m₂, ... Names side by
 * side are multiplied, but not after a stroke, where readers differ on what it means.
 * @throws Error when it cannot be read or a symbol is not among the inputs
 */
export function evaluateFormula(text: string, inputs: SymbolValues): Evaluated {
  const [result, ...definitions] = statements(text);
  const known = new Map(inputs);
  const names = new Set([...inputs.keys(), ...definitions.map((d) => d.name ?? '')]);
  const compute = (expression: string): number | null => {
    const of = (symbol: string): number => {
      if (!known.has(symbol)) throw new Error(`${symbol} of "${text}" is defined after it is needed`);
      return known.get(symbol) ?? NaN;
    };
    const value = new Reader(expression, names).whole()(of);
    return Number.isNaN(value) ? null : value;
  };
  for (const { name, expression } of [...definitions].reverse()) {
    if (name === undefined) throw new Error(`"${expression}" of "${text}" defines nothing`);
    known.set(name, compute(expression));
  }
  return {
    value: compute(result.expression),
    intermediate: definitions.map(({ name: symbol = '', expression }) => ({
      ...{ symbol, expression },
      value: known.get(symbol) ?? null,
    })),
  };
}

/** A closed form without what it defines on its way. */
export function resultOf(text: string): string {
  const [{ name, expression }] = statements(text);
  return name === undefined ? expression : `${name} = ${expression}`;
}

/** Parts between the commas outside of parentheses. */
function statements(text: string): { name?: string; expression: string }[] {
  const parts = [''];
  let depth = 0;
  for (const letter of text) {
    depth += letter === '(' ? 1 : letter === ')' ? -1 : 0;
    if (letter === ',' && depth === 0) parts.push('');
    else parts[parts.length - 1] += letter;
  }
  return parts.map((part) => {
    const [left, right] = part.split(' = ');
    return right === undefined ? { expression: left.trim() } : { name: left.trim(), expression: right.trim() };
  });
}

/** Recursive descent over one expression. */
class Reader {
  private at = 0;
  private readonly names: readonly string[];

  constructor(
    private readonly text: string,
    names: ReadonlySet<string>,
  ) {
    this.names = [...names].filter((name) => name !== '').sort((a, b) => b.length - a.length);
  }

  whole(): Evaluate {
    const value = this.sum();
    if (this.at < this.text.length) throw this.trouble();
    return value;
  }

  private sum(): Evaluate {
    const terms: { sign: 1 | -1; term: Evaluate }[] = [];
    let sign: 1 | -1 = this.take('−') ? -1 : 1;
    for (;;) {
      terms.push({ sign, term: this.product() });
      if (this.take('+')) sign = 1;
      else if (this.take('−')) sign = -1;
      else return (of) => terms.reduce((total, t) => total + t.sign * t.term(of), 0);
    }
  }

  private product(): Evaluate {
    let value = this.power();
    for (let isDivided = false; ;) {
      const left = value;
      if (this.take('/')) {
        const right = this.power();
        value = (of) => left(of) / right(of);
        isDivided = true;
      } else if (this.take('·') || (!isDivided && this.isFactorNext())) {
        const right = this.power();
        value = (of) => left(of) * right(of);
        isDivided = false;
      } else if (this.isFactorNext()) throw this.trouble();
      else return value;
    }
  }

  private isFactorNext(): boolean {
    const rest = this.text.slice(this.at).trimStart();
    return rest !== '' && !'+−·/,)'.includes(rest[0]);
  }

  private power(): Evaluate {
    const base = this.primary();
    for (const [mark, exponent] of SUPERSCRIPTS) if (this.take(mark)) return (of) => base(of) ** exponent;
    if (!this.take('^')) return base;
    const exponent = this.primary();
    return (of) => base(of) ** exponent(of);
  }

  private primary(): Evaluate {
    if (this.take('(')) return this.closed();
    if (this.take('√')) {
      const under = this.primary();
      return (of) => Math.sqrt(under(of));
    }
    if (this.take('Σ')) return this.indexedSum();
    const number = /^\s*(\d+(?:\.\d+)?)/.exec(this.text.slice(this.at));
    if (number) {
      this.at += number[0].length;
      return () => Number(number[1]);
    }
    for (const [name, extreme] of Object.entries(EXTREMES)) {
      if (!this.take(`${name}(`)) continue;
      const first = this.sum();
      if (!this.take(',')) throw this.trouble();
      const second = this.closed();
      return (of) => extreme(first(of), second(of));
    }
    const named = this.name();
    if (named) return named;
    for (const [name, apply] of Object.entries(FUNCTIONS)) {
      if (!this.take(`${name}(`)) continue;
      const argument = this.closed();
      return (of) => apply(argument(of));
    }
    if (this.take('e')) return () => Math.E;
    throw this.trouble();
  }

  /** A symbol of the inputs, the longest that fits; a function before a parenthesis goes before those that are no longer. */
  private name(): Evaluate | undefined {
    const rest = this.text.slice(this.at).trimStart();
    const called = Object.keys(FUNCTIONS).find((f) => rest.startsWith(`${f}(`)) ?? '';
    const name = this.names.find((symbol) => rest.startsWith(symbol) && symbol.length > called.length);
    if (name !== undefined) {
      this.take(name);
      return (of) => of(name);
    }
    const [, stem] = new RegExp(`^(\\p{L}+)${INDEX}`, 'u').exec(rest) ?? [];
    if (stem === undefined) return undefined;
    this.take(stem + INDEX);
    return (of) => of(stem + INDEX);
  }

  /** Sum of a product over all the symbols that differ by the number at their end. */
  private indexedSum(): Evaluate {
    const from = this.at;
    const body = this.product();
    const stems = [...this.text.slice(from, this.at).matchAll(new RegExp(`(\\p{L}+)${INDEX}`, 'gu'))].map((m) => m[1]);
    if (stems.length === 0) throw this.trouble();
    let count = 0;
    while (this.names.includes(stems[0] + subscript(count + 1))) count++;
    return (of) => {
      let total = 0;
      for (let j = 1; j <= count; j++)
        total += body((symbol) => of(symbol.endsWith(INDEX) ? symbol.slice(0, -1) + subscript(j) : symbol));
      return total;
    };
  }

  private closed(): Evaluate {
    const value = this.sum();
    if (!this.take(')')) throw this.trouble();
    return value;
  }

  private take(mark: string): boolean {
    const start = this.at + (this.text.slice(this.at).length - this.text.slice(this.at).trimStart().length);
    if (!this.text.startsWith(mark, start)) return false;
    this.at = start + mark.length;
    return true;
  }

  private trouble(): Error {
    return new Error(`"${this.text}" cannot be read at "${this.text.slice(this.at)}"`);
  }
}
