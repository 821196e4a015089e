import type { TestProject } from 'vitest/node';
import { Application, databaseFromTemplate } from '../running-application.ts';

declare module 'vitest' {
  interface ProvidedContext {
    address: string;
    database: string;
  }
}

/** Starts the application that all files ask, on a copy of the small demo; returns how it ends. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const database = databaseFromTemplate('http');
  const application = await Application.start('http', { database, workers: 1 });
  project.provide('address', application.address);
  project.provide('database', database);
  return () => application.stop();
}
