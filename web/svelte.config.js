import adapter from '@sveltejs/adapter-node';

const node = adapter();
/** Compressing takes a third of the build, and who starts on a machine of his own waits for it in vain: scripts/compress-assets does it apart. */
const uncompressed = { ...node, adapt: (builder) => node.adapt({ ...builder, compress: () => Promise.resolve() }) };

/** @type {import('@sveltejs/kit').Config} */
export default {
  kit: {
    adapter: uncompressed,
    typescript: {
      config: (config) => ({ ...config, include: [...config.include, '../scripts/**/*.ts', '../*.config.ts'] }),
    },
    csp: {
      mode: 'nonce',
      directives: {
        'default-src': ['self'],
        'script-src': ['self'],
        // Charts set style attributes on their marks; scripts stay strict.
        'style-src': ['self', 'unsafe-inline'],
        'img-src': ['self', 'data:', 'blob:'],
        'font-src': ['self'],
        'connect-src': ['self'],
        'worker-src': ['self'],
        'object-src': ['none'],
        'base-uri': ['self'],
        'form-action': ['self'],
        'frame-ancestors': ['none'],
      },
    },
  },
};
