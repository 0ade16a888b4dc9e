declare module 'libheif-js/libheif-wasm/libheif-bundle.mjs' {
  const makeDecoder: () => unknown;
  export default makeDecoder;
}
