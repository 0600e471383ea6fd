/** WebAssembly in text, assembled by the build (`watModules.mjs`): the bytes of the module. */
declare module '*.wat' {
  const bytes: Uint8Array<ArrayBuffer>;
  export default bytes;
}
