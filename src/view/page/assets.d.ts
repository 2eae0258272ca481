/** The text of a style, put into the build as it is. */
declare module '*.css' {
  const text: string;
  export default text;
}

/** The text of a script for browsers, bundled on its own. */
declare module '*?script' {
  const text: string;
  export default text;
}
