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

const SAMPLE_BYTES = 1 << 16;

const problemReply = z.object({
  title: z.string(),
  detail: z.string().optional(),
  problems: z.array(rowProblem).optional(),
});

export interface ImportTrouble {
  message: string;
  problems: RowProblemRecord[];
}

/** One file on its way in: preview with the user's corrections, then upload with progress and cancel. */
export class ChainImport {
  file = $state.raw<File>();
  preview = $state.raw<ImportPreview>();
  trouble = $state.raw<ImportTrouble>();
  result = $state.raw<ImportResult>();
  /** Share of the file sent while uploading, 0 to 1 */
  progress = $state<number>();
  terms = $state<ImportTerms>({ kind: 'index', exercise: 'european', model: 'spot', multiplier: 100, currency: 'XTS' });
  typed = $state<{ underlying?: string; asOf?: string; underlyingPrice?: string }>({});
  #request: XMLHttpRequest | undefined;

  get isBusy(): boolean {
    return this.progress !== undefined;
  }

  async choose(file: File): Promise<void> {
    this.file = file;
    this.result = undefined;
    this.typed = {};
    await this.#look(undefined);
  }

  /** Looks at the file again with corrections to its format, columns or zone. */
  async correct(changes: Partial<ImportOptionsInput>): Promise<void> {
    await this.#look({ ...this.#options(), ...changes });
  }

  clear(): void {
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
    const { file } = this;
    if (!file) return;
    this.trouble = undefined;
    const query = new URLSearchParams();
    if (file.size <= SAMPLE_BYTES) query.set('whole', '1');
    if (options) query.set('options', JSON.stringify(options));
    try {
      const response = await fetch(`/api/v1/imports/chains/preview?${query}`, {
        method: 'POST',
        // A body without a type is not read by the server.
        headers: { 'content-type': 'text/csv' },
        body: file.slice(0, SAMPLE_BYTES),
      });
      const body: unknown = await response.json();
      if (response.ok) this.preview = importPreview.parse(body);
      else this.#fail(body);
    } catch {
      this.#unreachable();
    }
  }

  /** Sends the whole file; a second call while busy does nothing. */
  upload(): Promise<void> {
    const { file } = this;
    if (!file || this.isBusy) return Promise.resolve();
    this.trouble = undefined;
    this.progress = 0;
    const request = new XMLHttpRequest();
    this.#request = request;
    return new Promise((resolve) => {
      const finish = (act: () => void) => () => {
        this.progress = undefined;
        this.#request = undefined;
        act();
        resolve();
      };
      request.upload.onprogress = (event) => (this.progress = event.loaded / Math.max(1, file.size));
      request.onload = finish(() => this.#answer(request));
      request.onerror = finish(() => this.#unreachable());
      request.onabort = finish(() => (this.trouble = { message: 'Cancelled; nothing was stored.', problems: [] }));
      const query = new URLSearchParams({ options: JSON.stringify(this.#options()) });
      request.open('POST', `/api/v1/imports/chains?${query}`);
      request.setRequestHeader('content-type', 'text/csv');
      request.send(file);
    });
  }

  cancel(): void {
    this.#request?.abort();
  }

  #answer(request: XMLHttpRequest): void {
    let body: unknown;
    try {
      body = JSON.parse(request.responseText);
    } catch {
      return this.#unreachable();
    }
    const result = importResult.safeParse(body);
    if (request.status === 200 && result.success) {
      this.result = result.data;
      this.clear();
    } else this.#fail(body);
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
