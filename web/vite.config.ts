import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';

/** Loaded when a chart or a workbook is, not with the page. */
const LATER = /plotly|exceljs/;
/** What several pages share comes in two files, or a first visit would ask for fifty. */
const groups = [
  { name: 'packages', test: (id: string) => id.includes('node_modules') && !LATER.test(id), minShareCount: 3 },
  { name: 'shared', test: /src[\\/]lib|core[\\/]src|market[\\/]src/, minShareCount: 3 },
];

export default defineConfig({
  plugins: [tailwindcss(), sveltekit()],
  worker: { format: 'es' },
  build: { chunkSizeWarningLimit: 2000 },
  environments: { client: { build: { rolldownOptions: { output: { codeSplitting: { groups } } } } } },
});
