declare module 'plotly.js-cartesian-dist-min' {
  import type * as Plotly from 'plotly.js';
  const library: typeof Plotly;
  export default library;
}
