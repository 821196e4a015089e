import { fileURLToPath } from 'node:url';
import { compileModule } from 'svelte/compiler';
import { defineProject } from 'vitest/config';
import { COMMON } from '../vitest.common.ts';

const path = (name: string) => fileURLToPath(new URL(name, import.meta.url));

/** What runs in a page, compiled as for a browser; where the page stands, and where it goes, the test says. */
export default defineProject({
  plugins: [
    {
      // The framework's own plugin compiles for the server here, where nothing follows anything.
      name: 'runes-as-in-a-page',
      transform: (code, id) =>
        /\.svelte\.(test\.)?ts$/.test(id) ? compileModule(code, { filename: id, generate: 'client' }).js : undefined,
    },
  ],
  resolve: { alias: { $lib: path('src/lib'), $app: path('test/page/app') } },
  ssr: { resolve: { conditions: ['browser', 'import', 'default'] } },
  test: {
    ...COMMON,
    name: 'page',
    root: import.meta.dirname,
    include: ['test/page/*.test.ts'],
    server: { deps: { inline: ['svelte'] } },
  },
});
