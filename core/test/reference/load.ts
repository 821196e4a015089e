import { readFileSync } from 'node:fs';

/** Reads one reference file of this folder; the caller names the shape of its cases. */
export function loadReference<Case, Extra = object>(file: string): { cases: Case[] } & Extra {
  return JSON.parse(readFileSync(new URL(file, import.meta.url), 'utf8')) as { cases: Case[] } & Extra;
}
