import { Lexer } from 'yaml';
import { splitFrontMatter } from './frontMatter.ts';

/** The comments of a YAML text, or of a Markdown file's front matter, in their order: `# as it was`. */
export const commentsIn = (text: string): readonly string[] =>
  [...new Lexer().lex(splitFrontMatter(text)?.yaml ?? text)].filter((token) => token.startsWith('#'));
