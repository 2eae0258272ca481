import { flag } from '../definition/flag.ts';
import type { Json } from '../plain/json.ts';
import { conversion } from '../text/conversion.ts';
import { isText } from '../text/tree.ts';
import { presentation } from './compatibility.ts';
import { textConversions } from './conversions.ts';
import { defineKind, wrongShape } from './define.ts';
import { checkLength, lengthGist, lengthMeanings, lengthMistakes, lengthOptions, lengthShape } from './length.ts';

/** Running text in Markdown (CommonMark 0.31). With `body`, it is what follows the front matter of a Markdown file. */
export const markdown = defineKind({
  name: 'markdown',
  about: 'Running text in Markdown; with `body: true` it is the prose of a Markdown file.',
  options: {
    ...lengthOptions,
    body: flag.describe('Whether it is the text below the front matter of a Markdown file.'),
  },
  example: {
    options: { body: true, min: 20, max: 20000, pattern: '\\S' },
    value: 'The lens was lit on the evening of a *storm*.',
  },
  mistakes: lengthMistakes,
  check: (options, context) => {
    const length = checkLength(options, context);
    return (value, report) => {
      if (typeof value === 'string') length(value, report);
      else wrongShape(report, value, 'markdown');
    };
  },
  changed: { ...lengthMeanings, body: presentation },
  from: { ...textConversions, richText: fromTree },
  stores: lengthShape,
  cel: 'string',
  isBody: ({ body }) => body === true,
  gist: (options) => [options.body ? 'the body of the file' : '', lengthGist(options)].filter(Boolean).join(', '),
});

function fromTree(value: Json) {
  return isText(value)
    ? { value: conversion().treeToMarkdown(value).trimEnd() }
    : { lost: 'it is no tree of structured text' };
}
