import { z } from 'zod';
import {
  importPreview,
  type ImportOptionsInput,
  type ImportPreview,
  importResult,
  type ImportResult,
  type ImportTerms,
  rowProblem,
  type RowProblemRecord,
} from '../schema/chain-import.ts';
import { UploadTask } from './upload.svelte.ts';

const problemReply = z.object({
  title: z.string(),
  detail: z.string().optional(),
  problems: z.array(rowProblem).optional(),
});

export interface ImportTrouble {
  message: string;
  problems: RowProblemRecord[];
}

type Reply = { response: Response; body: unknown } | undefined;

/** One file on its way in: sent once, previewed with the user's corrections, then imported with progress and cancel. */
export class ChainImport {
  file = $state.raw<File>();
  preview = $state.raw<ImportPreview>();
  trouble = $state.raw<ImportTrouble>();
  result = $state.raw<ImportResult>();
  /** What is being done */
  doing = $state<'sending' | 'looking' | 'importing'>();
  terms = $state<ImportTerms>({ kind: 'index', exercise: 'european', model: 'spot', multiplier: 100, currency: 'XTS' });
  typed = $state<{ underlying?: string; asOf?: string; underlyingPrice?: string }>({});
  readonly upload = new UploadTask();
  #id: string | undefined;
  #abort: AbortController | undefined;

  get isBusy(): boolean {
    return this.doing !== undefined;
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
        return { text: `gathering slices of ${rows}`, share: undefined };
      case 'deriving':
        return { text: 'deriving measures', share: progress.share };
    }
  }

  async choose(file: File): Promise<void> {
    this.file = file;
    this.result = undefined;
    this.preview = undefined;
    this.typed = {};
    this.#id = undefined;
    await this.#look(undefined);
  }

  /** Looks at the file again with corrections to its format, columns or zone. */
  async correct(changes: Partial<ImportOptionsInput>): Promise<void> {
    await this.#look({ ...this.#options(), ...changes });
  }

  clear(): void {
    if (this.#id !== undefined) void fetch(`/api/v1/uploads/${this.#id}`, { method: 'DELETE' }).catch(() => undefined);
    this.#id = undefined;
    this.file = undefined;
    this.preview = undefined;
    this.trouble = undefined;
  }

  #options(): ImportOptionsInput {
    const { preview } = this;
    return {
      fileName: this.file?.name,
      format: preview?.format,
      mapping: preview?.mapping,
      zone: preview?.zone,
      sessionClose: preview?.sessionClose,
      typed: $state.snapshot(this.typed),
      terms: $state.snapshot(this.terms),
    };
  }

  async #look(options: ImportOptionsInput | undefined): Promise<void> {
    if (!this.file || this.isBusy) return;
    this.trouble = undefined;
    this.doing = 'looking';
    const reply = await this.#ask('/api/v1/imports/chains/preview', options);
    this.doing = undefined;
    if (!reply) return;
    const preview = importPreview.safeParse(reply.body);
    if (reply.response.ok && preview.success) this.preview = preview.data;
    else this.#fail(reply.body);
  }

  /** Stores the file; a second call while busy does nothing. */
  async store(): Promise<void> {
    if (!this.file || this.isBusy) return;
    this.trouble = undefined;
    this.doing = 'importing';
    const reply = await this.#ask('/api/v1/imports/chains', this.#options());
    this.doing = undefined;
    if (!reply) return;
    const result = importResult.safeParse(reply.body);
    if (reply.response.ok && result.success) {
      this.clear();
      this.result = result.data;
    } else this.#fail(reply.body);
  }

  cancel(): void {
    this.upload.cancel();
    this.#abort?.abort();
  }

  /** Asks something of the file by its id; sends the file first, or again, where the server does not have it. */
  async #ask(path: string, options: ImportOptionsInput | undefined): Promise<Reply> {
    for (let attempt = 0; ; attempt++) {
      const id = await this.#sent();
      if (id === undefined) return undefined;
      const query = new URLSearchParams({ upload: id });
      if (options) query.set('options', JSON.stringify(options));
      const stop = this.upload.watch(id);
      this.#abort = new AbortController();
      try {
        const response = await fetch(`${path}?${query}`, { method: 'POST', signal: this.#abort.signal });
        if (response.status === 410 && attempt === 0) {
          this.#id = undefined;
          continue;
        }
        return { response, body: await response.json() };
      } catch {
        if (this.#abort.signal.aborted) this.trouble = { message: 'Cancelled; nothing was stored.', problems: [] };
        else this.#unreachable();
        return undefined;
      } finally {
        stop();
      }
    }
  }

  async #sent(): Promise<string | undefined> {
    if (this.#id !== undefined || !this.file) return this.#id;
    const sent = await this.upload.send(this.file);
    if (sent.ok) this.#id = sent.id;
    else if (sent.reason === 'refused') this.#fail(sent.body);
    else if (sent.reason === 'cancelled') this.trouble = { message: 'Cancelled; nothing was stored.', problems: [] };
    else this.#unreachable();
    return this.#id;
  }

  #fail(body: unknown): void {
    const reply = problemReply.safeParse(body);
    this.trouble = reply.success
      ? { message: `${reply.data.title}. ${reply.data.detail ?? ''}`, problems: reply.data.problems ?? [] }
      : { message: 'The server gave an answer that makes no sense here.', problems: [] };
  }

  #unreachable(): void {
    this.trouble = {
      message: 'The server could not be reached; nothing was stored. Try again when it runs.',
      problems: [],
    };
  }
}

/** Problems as a CSV file to mend the rows by. */
export function problemsCsv(problems: RowProblemRecord[]): Blob {
  const cell = (value: string | number) => `"${String(value).replaceAll('"', '""')}"`;
  const lines = problems.map((p) => [p.line, p.field, p.value, p.code, p.remedy].map(cell).join(','));
  return new Blob([['line,field,value,problem,remedy', ...lines].join('\r\n')], { type: 'text/csv' });
}
