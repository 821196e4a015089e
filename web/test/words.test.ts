import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { parse } from 'svelte/compiler';
import ts from 'typescript';
import { expect, test } from 'vitest';

/* The list of words, and every text of the interface against it. */

const root = fileURLToPath(new URL('../..', import.meta.url));

/** What is not said, each with the word in its place. */
function unsaid(): { not: string; say: string }[] {
  const rows = readFileSync(`${root}docs/words.md`, 'utf8')
    .split('\n')
    .filter((line) => line.startsWith('| '))
    .map((line) => line.split('|').map((cell) => cell.trim()))
    .filter(([, say]) => say !== 'say' && !/^-+$/.test(say));
  return rows.flatMap(([, say, not]) => not.split(', ').map((word) => ({ not: word, say })));
}

/** Attributes that somebody reads or hears. */
const READ = ['aria-label', 'title', 'placeholder', 'label', 'hint', 'aria-valuetext', 'what'];

interface Node {
  type?: string;
  name?: string;
  data?: string;
  [key: string]: unknown;
}

/** Words between tags, and in the attributes that are read, of a component. */
function templateTexts(source: string): string[] {
  const texts: string[] = [];
  const visit = (node: unknown, isRead: boolean): void => {
    if (Array.isArray(node)) for (const child of node) visit(child, isRead);
    else if (node !== null && typeof node === 'object') {
      const { type, name, data } = node as Node;
      if (type === 'Text' && isRead && typeof data === 'string') texts.push(data);
      for (const [key, child] of Object.entries(node)) {
        if (key === 'parent' || key === 'css' || key === 'instance' || key === 'module') continue;
        visit(child, type === 'Attribute' ? READ.includes(name ?? '') : isRead);
      }
    }
  };
  visit(parse(source, { modern: true }).fragment, true);
  return texts;
}

/** Prose among the literals of a script: what has a blank in it, or is a property that is shown. */
function scriptTexts(source: string, name: string): string[] {
  const SHOWN = ['label', 'shortLabel', 'head', 'definition', 'text', 'words', 'absence', 'meaning', 'summary', 'name'];
  const texts: string[] = [];
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) return;
    if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) {
      const { parent } = node;
      const isShown = ts.isPropertyAssignment(parent) && SHOWN.includes(parent.name.getText());
      // Classes of style and drawing paths have blanks, too.
      const isProse = /[a-z] [a-z]/i.test(node.text) && !/[\]:][\w-]+ |^[a-z]+-[\w[]|_/.test(node.text);
      if (isShown || isProse) texts.push(node.text);
    }
    if (ts.isTemplateExpression(node))
      texts.push([node.head.text, ...node.templateSpans.map((s) => s.literal.text)].join('…'));
    ts.forEachChild(node, visit);
  };
  visit(ts.createSourceFile(name, source, ts.ScriptTarget.Latest, true));
  return texts;
}

/** Scripts of a component. */
const scriptsOf = (source: string) => [...source.matchAll(/<script[^>]*>([\s\S]*?)<\/script>/g)].map(([, s]) => s);

test('every text of the interface says what docs/words.md says, and nothing that it does not', () => {
  const files = ['views', 'shell', 'measures', 'ui', 'market', 'theory', 'api', 'server/http', '../routes'].flatMap(
    (folder) =>
      readdirSync(`${root}web/src/lib/${folder}`, { recursive: true, encoding: 'utf8' })
        .filter((name) => /\.(ts|svelte)$/.test(name))
        .map((name) => `web/src/lib/${folder}/${name}`),
  );
  expect(files.length).toBeGreaterThan(250);
  const words = unsaid();
  expect(words.length).toBeGreaterThan(60);
  const patterns = words.map(({ not, say }) => {
    // Capitals are part of an abbreviation and of nothing else.
    const isCode = /[A-Z]/.test(not);
    const escaped = not.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
    return { not, say, pattern: new RegExp(`(?<![\\w-])${escaped}(?![\\w-])`, isCode ? '' : 'i') };
  });
  let count = 0;
  const found = files.flatMap((file) => {
    const source = readFileSync(root + file, 'utf8');
    const isComponent = file.endsWith('.svelte');
    const scripts = isComponent ? scriptsOf(source) : [source];
    const texts = [...(isComponent ? templateTexts(source) : []), ...scripts.flatMap((s) => scriptTexts(s, file))];
    count += texts.length;
    // Of addresses no part is said.
    return texts
      .filter((text) => !/^[?/]/.test(text))
      .flatMap((text) =>
        patterns
          .filter((p) => p.pattern.test(text))
          .map((p) => `${file}: “${text.trim().slice(0, 90)}”: ${p.say}, not ${p.not}`),
      );
  });
  expect(count).toBeGreaterThan(2000);
  expect(found).toEqual([]);
});
