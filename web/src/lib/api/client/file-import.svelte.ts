import { z } from 'zod';
import {
  importChainRoute,
  importTableRoute,
  previewChainRoute,
  previewFileRoute,
  previewTableRoute,
  removeUploadRoute,
} from '../contract/files.ts';
import type { Route } from '../contract/route.ts';
import { ask } from './ask.ts';
import { ApiTrouble, troubleOf } from './trouble.ts';
import { symbolPart } from '@umwelt/market/symbol';
import {
  type ImportOptionsInput,
  type ImportPreview,
  type ImportResult,
  type ImportTerms,
  rowProblem,
} from '../chain-import.ts';
import { type FilePreview, tableImportResult, type TablePreview, tableProblem } from '../table-export.ts';
import { UploadTask } from './file-upload.svelte.ts';

const problemReply = z.object({
  title: z.string(),
  detail: z.string().optional(),
  problems: z.array(z.union([rowProblem, tableProblem])).optional(),
});

/** One thing to mend in a file. */
export interface ImportProblem {
  line: number;
  field: string;
  value: string;
  code: string;
  remedy: string;
}

export interface ImportTrouble {
  message: string;
  problems: ImportProblem[];
}

/** What became of a file. */
export type ImportOutcome =
  | { table: 'chains'; result: ImportResult }
  | { table: string; result: z.infer<typeof tableImportResult> };

type Typed = NonNullable<ImportOptionsInput['typed']>;
/** What the server calls a file, and the one that belongs to it. */
type SentIds = { upload: string; beside?: string };

const UNREADABLE = 'The server gave an answer that makes no sense here.';

/** One file on its way in, or two that belong together: sent once, previewed with the user's corrections, then imported. */
export class FileImport {
  readonly file: File;
  /** The file with the other side, where calls and puts come apart */
  beside = $state.raw<FileImport>();
  preview = $state.raw<FilePreview>();
  trouble = $state.raw<ImportTrouble>();
  outcome = $state.raw<ImportOutcome>();
  /** What is being done */
  doing = $state<'sending' | 'looking' | 'importing'>();
  /** Terms that the user changed; the others are taken as guessed */
  terms = $state<Partial<ImportTerms>>({});
  typed = $state<Typed>({});
  /** Whose rows a table has, where its file does not say */
  of = $state<string>();
  readonly upload = new UploadTask();
  #id: string | undefined;
  #abort: AbortController | undefined;

  constructor(file: File) {
    this.file = file;
  }

  get name(): string {
    return this.beside ? `${this.file.name} and ${this.beside.file.name}` : this.file.name;
  }

  get isBusy(): boolean {
    return this.doing !== undefined;
  }

  get chain(): ImportPreview | undefined {
    return this.preview?.table === 'chains' ? this.preview : undefined;
  }

  get tableRows(): TablePreview | undefined {
    return this.preview && this.preview.table !== 'chains' ? this.preview : undefined;
  }

  /** Whether it could be imported as it is. */
  get isReady(): boolean {
    if (this.isBusy || this.outcome) return false;
    const { chain, tableRows } = this;
    if (tableRows) return tableRows.problems.length === 0 && tableRows.rows > 0;
    return chain !== undefined && chain.missing.length === 0 && (chain.whole?.rows ?? 0) > 0;
  }

  /** The one side that it quotes, if it is one. */
  get side(): 'call' | 'put' | undefined {
    const sides = this.chain?.whole?.sides ?? [];
    return sides.length === 1 ? sides[0] : undefined;
  }

  /** What is being done, in words, with how far it is from 0 to 1 where that is known. */
  get progress(): { text: string; share: number | undefined } | undefined {
    if (this.doing === undefined) return undefined;
    const { sent, progress } = this.upload;
    if (sent !== undefined) return { text: `${Math.round(100 * sent)} % sent`, share: sent };
    if (!progress || progress.stage === 'received') return { text: 'the server begins to read', share: undefined };
    const rows = `${progress.rows.toLocaleString('en-US').replaceAll(',', '\u202f')} rows`;
    switch (progress.stage) {
      case 'reading':
        return { text: `${Math.round(100 * progress.share)} % read, ${rows}`, share: progress.share };
      case 'storing':
        return { text: `gathering ${rows}`, share: undefined };
    }
  }

  /** Looks at the file for the first time: what it holds is recognised. */
  async look(): Promise<void> {
    await this.#look((upload) => this.#ask(previewFileRoute, {}, { fileName: this.file.name, ...upload }));
  }

  /** Takes the file with the other side along from now on. */
  async join(other: FileImport): Promise<void> {
    this.beside = other;
    await this.correct({});
  }

  /** Looks at the file again with corrections to format, columns, zone or terms. */
  async correct(changes: Partial<ImportOptionsInput>): Promise<void> {
    const { tableRows } = this;
    if (tableRows) {
      const { table } = tableRows;
      await this.#look((upload) => this.#ask(previewTableRoute, { table }, { ...this.#tableQuery(), ...upload }));
    } else {
      const options = JSON.stringify({ ...this.#options(), ...changes });
      await this.#look((upload) => this.#ask(previewChainRoute, {}, { options, ...upload }));
    }
  }

  /** Lets go of what the server keeps of it. */
  clear(): void {
    if (this.#id !== undefined) void ask(removeUploadRoute, { parameters: { id: this.#id } }).catch(() => undefined);
    this.#id = undefined;
    this.beside?.clear();
  }

  /** Stores the file; a second call while busy does nothing. */
  async store(): Promise<void> {
    if (this.isBusy) return;
    this.trouble = undefined;
    this.doing = 'importing';
    const { tableRows } = this;
    this.outcome = await this.#ofFile(async (upload): Promise<ImportOutcome> => {
      if (tableRows) {
        const { table } = tableRows;
        return { table, result: await this.#ask(importTableRoute, { table }, { ...this.#tableQuery(), ...upload }) };
      }
      const options = JSON.stringify(this.#options());
      return { table: 'chains', result: await this.#ask(importChainRoute, {}, { options, ...upload }) };
    });
    this.doing = undefined;
    if (this.outcome) this.clear();
  }

  cancel(): void {
    this.upload.cancel();
    this.#abort?.abort();
  }

  #options(): ImportOptionsInput {
    const { chain } = this;
    const typed = $state.snapshot(this.typed);
    return {
      fileName: this.file.name,
      format: chain?.format,
      mapping: chain?.mapping,
      ...(this.#said.zone === undefined ? {} : { zone: this.#said.zone }),
      ...(this.#said.sessionClose === undefined ? {} : { sessionClose: this.#said.sessionClose }),
      badRows: this.badRows,
      volatilityWidth: chain?.volatilityWidth,
      typed,
      terms: $state.snapshot(this.terms),
    };
  }

  #tableQuery(): { fileName: string; terms: string; of?: string } {
    const query = { fileName: this.file.name, terms: JSON.stringify($state.snapshot(this.terms)) };
    const of = (this.of ?? this.tableRows?.of ?? '').trim();
    return of !== '' && this.tableRows?.isOfNeeded ? { ...query, of } : query;
  }

  badRows = $state<'leave-out' | 'refuse'>('leave-out');
  #said: { zone?: string; sessionClose?: string } = {};

  /** Says zone or close, which are guessed otherwise. */
  async say(settings: { zone?: string; sessionClose?: string }): Promise<void> {
    this.#said = { ...this.#said, ...settings };
    await this.correct({});
  }

  async #look(asking: (upload: SentIds) => Promise<FilePreview>): Promise<void> {
    if (this.isBusy) return;
    this.trouble = undefined;
    this.doing = 'looking';
    this.preview = (await this.#ofFile(asking)) ?? this.preview;
    this.doing = undefined;
  }

  /** Asks something of the file by its id; sends the file first, or again, where the server does not have it. */
  async #ofFile<T>(asking: (upload: SentIds) => Promise<T>): Promise<T | undefined> {
    for (let attempt = 0; ; attempt++) {
      const upload = await this.#sent();
      const beside = this.beside ? await this.beside.#sent() : undefined;
      if (upload === undefined || (this.beside && beside === undefined)) return undefined;
      const stop = this.upload.watch(upload);
      this.#abort = new AbortController();
      try {
        return await asking(beside === undefined ? { upload } : { upload, beside });
      } catch (error) {
        const isGone = error instanceof ApiTrouble && error.status === 410;
        if (!isGone || attempt > 0) {
          this.#fail(error, this.#abort.signal);
          return undefined;
        }
        this.#id = undefined;
        if (this.beside) this.beside.#id = undefined;
      } finally {
        stop();
      }
    }
  }

  #ask<P extends z.ZodObject, Q extends z.ZodObject, A extends z.ZodType>(
    route: Route<P, Q, z.ZodString, A>,
    parameters: z.input<P>,
    query: Record<string, string>,
  ): Promise<z.output<A>> {
    return ask(route, { parameters, query: new URLSearchParams(query), signal: this.#abort?.signal });
  }

  async #sent(): Promise<string | undefined> {
    if (this.#id !== undefined) return this.#id;
    const sent = await this.upload.send(this.file);
    if (sent.ok) this.#id = sent.id;
    else if (sent.reason === 'refused') this.#fail(troubleOf(0, sent.body));
    else if (sent.reason === 'cancelled') this.trouble = { message: 'Cancelled; nothing was stored.', problems: [] };
    else this.#unreachable();
    return this.#id;
  }

  #fail(error: unknown, signal?: AbortSignal): void {
    if (signal?.aborted) this.trouble = { message: 'Cancelled; nothing was stored.', problems: [] };
    else if (!(error instanceof ApiTrouble)) this.trouble = { message: UNREADABLE, problems: [] };
    else if (error.document === undefined) this.#unreachable();
    else {
      const reply = problemReply.safeParse(error.document);
      const { title = '', detail = '', problems = [] } = reply.data ?? {};
      const message = reply.success ? `${title}. ${detail}` : UNREADABLE;
      this.trouble = { message, problems: problems.map(problemOf) };
    }
  }

  #unreachable(): void {
    this.trouble = {
      message: 'The server could not be reached; nothing was stored. Try again when it runs.',
      problems: [],
    };
  }
}

function problemOf(p: z.infer<typeof rowProblem> | z.infer<typeof tableProblem>): ImportProblem {
  return 'line' in p ? p : { line: p.row, field: p.column, value: p.value, code: 'bad-cell', remedy: p.remedy };
}

/** Problems as a CSV file to mend the rows by. */
export function problemsCsv(problems: ImportProblem[]): Blob {
  const cell = (value: string | number) => `"${String(value).replaceAll('"', '""')}"`;
  const lines = problems.map((p) => [p.line, p.field, p.value, p.code, p.remedy].map(cell).join(','));
  return new Blob([['line,field,value,problem,remedy', ...lines].join('\r\n')], { type: 'text/csv' });
}

/** Where an import can be looked at. */
export function viewLinks(outcome: ImportOutcome): { symbol: string; href: (view: string) => string }[] {
  return outcome.result.underlyings.map((u) => {
    const [symbol, asOf] = typeof u === 'string' ? [u, undefined] : [u.symbol, u.asOf];
    const query = asOf === undefined ? '' : `?asOf=${asOf.replace('+', '%2B')}`;
    return { symbol, href: (view: string) => `/${view}/${symbolPart(symbol)}${query}` };
  });
}
