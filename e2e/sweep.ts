import type { Page } from '@playwright/test';

/* What a look at a page would find at once: what runs out of it, is cut, lies over other words, or is too pale to read. */

/** Text on the page that is wrong, each with what is wrong about it. */
export async function faultsOf(page: Page): Promise<string[]> {
  if (!(await settled(page))) return ['what is drawn never comes to rest'];
  return page.evaluate(findFaults);
}

/** Frames until what is drawn must stay where it is: ten seconds. */
const MOST_FRAMES = 600;

/** Until what is drawn stays where it is: charts follow a new width a few frames later. @returns whether it ever does */
async function settled(page: Page): Promise<boolean> {
  return page.evaluate(async (most) => {
    const places = () =>
      [...document.querySelectorAll('text, td, button, p, span')].map((e) => {
        const { x, y, width } = e.getBoundingClientRect();
        return `${x.toFixed(0)},${y.toFixed(0)},${width.toFixed(0)}`;
      });
    let before = '';
    for (let same = 0, frame = 0; same < 12; frame++) {
      if (frame > most) return false;
      await new Promise((resolve) => requestAnimationFrame(resolve));
      const now = places().join();
      same = now === before ? same + 1 : 0;
      before = now;
    }
    return true;
  }, MOST_FRAMES);
}

/** Runs in the page. */
function findFaults(): string[] {
  /** Beyond this many pixels something is out of its place, and two words lie over each other. */
  const SLACK = 2;
  const LEAST_OVERLAP = { across: 3, up: 5 };
  const LEAST_CONTRAST = 4.5;

  type Color = [red: number, green: number, blue: number, alpha: number];
  interface Words {
    element: Element;
    text: string;
    box: DOMRect;
  }
  const found = new Set<string>();
  const brief = (text: string) => `“${text.trim().replace(/\s+/g, ' ').slice(0, 50)}”`;

  const reader = document.createElement('canvas').getContext('2d', { willReadFrequently: true });
  const known = new Map<string, Color>();
  function colorOf(css: string): Color {
    const before = known.get(css);
    if (before) return before;
    if (!reader) return [0, 0, 0, 1];
    reader.clearRect(0, 0, 1, 1);
    reader.fillStyle = css;
    reader.fillRect(0, 0, 1, 1);
    const [r, g, b, a] = reader.getImageData(0, 0, 1, 1).data;
    const color: Color = [r, g, b, a / 255];
    known.set(css, color);
    return color;
  }
  const over = (top: Color, under: Color): Color => {
    const mix = (i: 0 | 1 | 2) => top[i] * top[3] + under[i] * (1 - top[3]);
    return [mix(0), mix(1), mix(2), 1];
  };
  const luminance = (color: Color): number => {
    const [r, g, b] = color
      .slice(0, 3)
      .map((v) => (v / 255 <= 0.04045 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4));
    return 0.2126 * r + 0.7152 * g + 0.0722 * b;
  };
  const contrast = (a: Color, b: Color): number => {
    const [high, low] = [luminance(a), luminance(b)].sort((x, y) => y - x);
    return (high + 0.05) / (low + 0.05);
  };

  const styles = new Map<Element, CSSStyleDeclaration>();
  const styleOf = (element: Element): CSSStyleDeclaration => {
    const style = styles.get(element) ?? getComputedStyle(element);
    styles.set(element, style);
    return style;
  };
  const ancestors = (element: Element): Element[] => {
    const list: Element[] = [];
    for (let at: Element | null = element; at; at = at.parentElement) list.push(at);
    return list;
  };
  const isShown = (element: Element): boolean =>
    element.checkVisibility({ opacityProperty: true, visibilityProperty: true }) &&
    !element.closest('.sr-only, [hidden], .hoverlayer, option, desc, title, style');

  // Every run of words that is seen.
  const words: Words[] = [];
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const { parentElement: element, textContent: text } = node;
    if (!element || !text?.trim() || !isShown(element)) continue;
    const range = document.createRange();
    range.selectNodeContents(node);
    for (const box of range.getClientRects()) if (box.width > 1 && box.height > 1) words.push({ element, text, box });
  }

  // What is inside a part that scrolls is reached by scrolling; beyond what clips it is gone.
  const visible: Words[] = [];
  for (const { element, text, box } of words) {
    let [left, right, top, bottom] = [box.left, box.right, box.top, box.bottom];
    let isReached = false;
    for (const around of ancestors(element)) {
      const { overflowX, overflowY, textOverflow, contain } = styleOf(around);
      const clip = around.getBoundingClientRect();
      const scrolls = (o: string) => o === 'auto' || o === 'scroll';
      if (around !== document.documentElement && (scrolls(overflowX) || scrolls(overflowY))) isReached = true;
      const isClipping =
        overflowX !== 'visible' ||
        contain.includes('content') ||
        contain.includes('paint') ||
        contain.includes('strict') ||
        around.tagName === 'svg'; // drawings clip at their own edge
      if (!isClipping || clip.width === 0 || around === document.documentElement) continue;
      const cut = Math.max(clip.left - left, right - clip.right, clip.top - top - 3, bottom - clip.bottom - 3);
      if (cut > SLACK && !isReached && textOverflow !== 'ellipsis')
        found.add(`clipped ${brief(text)} by ${cut.toFixed(0)} px`);
      [left, right] = [Math.max(left, clip.left), Math.min(right, clip.right)];
      [top, bottom] = [Math.max(top, clip.top), Math.min(bottom, clip.bottom)];
    }
    if (right - left > 1 && bottom - top > 1)
      visible.push({ element, text, box: new DOMRect(left, top, right - left, bottom - top) });
    if (!isReached && (right > innerWidth + SLACK || left < -SLACK)) found.add(`out of the page ${brief(text)}`);
  }
  if (document.documentElement.scrollWidth > innerWidth + SLACK)
    found.add(`the page is ${document.documentElement.scrollWidth} px wide`);

  // Words over words: both are seen where they meet, with nothing opaque between.
  const everything = document.createElement('style');
  everything.textContent = '* { pointer-events: auto !important }';
  document.head.append(everything);
  const isOpaque = (element: Element): boolean => colorOf(styleOf(element).backgroundColor)[3] > 0.9;
  const isSeenAt = ({ element }: Words, x: number, y: number): boolean => {
    for (const at of document.elementsFromPoint(x, y)) {
      if (at === element || element.contains(at) || at.contains(element)) return true;
      if (isOpaque(at)) return false;
    }
    return false;
  };
  const seen = visible.filter(
    ({ box }) => box.right > 0 && box.left < innerWidth && box.bottom > 0 && box.top < innerHeight,
  );
  seen.sort((a, b) => a.box.left - b.box.left);
  for (const [i, a] of seen.entries()) {
    for (let j = i + 1; j < seen.length && seen[j].box.left < a.box.right - LEAST_OVERLAP.across; j++) {
      const b = seen[j];
      if (a.element === b.element) continue;
      const [left, right] = [Math.max(a.box.left, b.box.left), Math.min(a.box.right, b.box.right)];
      const [top, bottom] = [Math.max(a.box.top, b.box.top), Math.min(a.box.bottom, b.box.bottom)];
      // Boxes of letters are higher than the letters.
      if (right - left < LEAST_OVERLAP.across || bottom - top < LEAST_OVERLAP.up) continue;
      const [x, y] = [(left + right) / 2, (top + bottom) / 2];
      if (isSeenAt(a, x, y) && isSeenAt(b, x, y)) found.add(`${brief(a.text)} over ${brief(b.text)}`);
    }
  }
  everything.remove();

  // Pale words. What cannot be used is allowed to be.
  for (const { element, text, box } of seen) {
    if (element.closest(':disabled, [aria-disabled=true], [aria-busy=true]')) continue;
    const around = ancestors(element);
    const style = styleOf(element);
    const isDrawn = element instanceof SVGElement;
    const ink = colorOf(isDrawn ? style.fill : style.color);
    const opacity = around.reduce(
      (share, at) => share * Number(styleOf(at).opacity),
      isDrawn ? Number(style.fillOpacity) : 1,
    );
    const grounds = around.map((at) => colorOf(styleOf(at).backgroundColor));
    const last = grounds.findIndex((g) => g[3] > 0.99);
    const ground = grounds.slice(0, last + 1).reduceRight((under, g) => over(g, under), [255, 255, 255, 1] as Color);
    const ratio = contrast(over([ink[0], ink[1], ink[2], ink[3] * opacity], ground), ground);
    if (ratio < LEAST_CONTRAST - 0.01)
      found.add(`pale ${brief(text)}: ${ratio.toFixed(2)} at ${box.left.toFixed(0)}, ${box.top.toFixed(0)}`);
  }
  return [...found];
}
