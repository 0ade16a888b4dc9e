declare module 'mammoth/mammoth.browser.min.js' {
  const mammoth: {
    convertToHtml(
      input: { arrayBuffer: ArrayBuffer },
      options: { externalFileAccess: boolean; styleMap: string[] },
    ): Promise<{ value: string }>;
  };
  export default mammoth;
}
