/** The smallest prebuilt bundle of Plotly.js that draws lines, areas and cubes: one for all charts; what is used of it. */
declare module 'plotly.js-gl3d-dist-min' {
  interface Plotly {
    react(target: HTMLElement, data: readonly object[], layout: object, config: object): Promise<unknown>;
    purge(target: HTMLElement): void;
  }
  const plotly: Plotly;
  export default plotly;
}
