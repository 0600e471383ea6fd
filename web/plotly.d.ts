/** The smallest prebuilt bundle of Plotly.js that draws in three dimensions; as much of it as is used. */
declare module 'plotly.js-gl3d-dist-min' {
  interface Plotly {
    react(target: HTMLElement, data: readonly object[], layout: object, config: object): Promise<unknown>;
    purge(target: HTMLElement): void;
  }
  const plotly: Plotly;
  export default plotly;
}
