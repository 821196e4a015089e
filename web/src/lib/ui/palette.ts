/** Colors of the page by theme; each has one meaning (see docs/architecture.md, look). */
export interface Palette {
  paper: string;
  sheet: string;
  line: string;
  hair: string;
  ink: string;
  soft: string;
  faint: string;
  implied: string;
  realized: string;
  realizedText: string;
  own: string;
  gain: string;
  loss: string;
  event: string;
  /** Of others that are held beside, in their order */
  beside: readonly string[];
  /** Near to far */
  ramp: readonly string[];
}

export type Theme = 'day' | 'night';

export const PALETTES: Record<Theme, Palette> = {
  day: {
    paper: '#f5f2ea',
    sheet: '#fbf9f4',
    line: '#ddd7c9',
    hair: '#e9e4d8',
    ink: '#1f242d',
    soft: '#5c626c',
    faint: '#7c7f84',
    implied: '#2f4fb5',
    realized: '#b4761c',
    realizedText: '#96600f',
    own: '#8b3170',
    gain: '#0d7680',
    loss: '#b0472a',
    event: '#7a5f14',
    beside: ['#1f7a6b', '#7a4fa3', '#5d6b1e', '#35708f'],
    ramp: ['#2b1b4e', '#46296c', '#55498a', '#4f6795', '#3f7f86', '#438a66', '#6a8c3c'],
  },
  night: {
    paper: '#12151b',
    sheet: '#181c24',
    line: '#2c323d',
    hair: '#232832',
    ink: '#e8e4da',
    soft: '#a0a5ae',
    faint: '#858a94',
    implied: '#8ea6ff',
    realized: '#e0a750',
    realizedText: '#e0a750',
    own: '#db86c2',
    gain: '#4fc1c9',
    loss: '#ea8a68',
    event: '#d8bb63',
    beside: ['#5fc7b4', '#b993e6', '#b5c25a', '#79b7d9'],
    ramp: ['#f3e9ff', '#d3c2f0', '#aeaade', '#8b9cc6', '#6d93a8', '#5c8a86', '#5b8a64'],
  },
};

const NEAR_DAYS = 5;
const FAR_DAYS = 400;

/** Color of an expiry: along the ramp by the logarithm of its days. */
export function expiryColor(days: number, palette: Palette): string {
  const share = Math.log(Math.max(days, NEAR_DAYS) / NEAR_DAYS) / Math.log(FAR_DAYS / NEAR_DAYS);
  const at = Math.min(1, Math.max(0, share)) * (palette.ramp.length - 1);
  const low = Math.min(Math.floor(at), palette.ramp.length - 2);
  return blend(palette.ramp[low], palette.ramp[low + 1], at - low);
}

function blend(from: string, to: string, share: number): string {
  const channel = (color: string, i: number) => Number.parseInt(color.slice(1 + 2 * i, 3 + 2 * i), 16);
  const mixed = [0, 1, 2].map((i) => Math.round(channel(from, i) * (1 - share) + channel(to, i) * share));
  return `#${mixed.map((c) => c.toString(16).padStart(2, '0')).join('')}`;
}
