/** A file's text, put into the page as it is built. */
declare module '*.md?raw' {
  const text: string;
  export default text;
}
