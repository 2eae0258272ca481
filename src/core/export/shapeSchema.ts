import type { Shape, TextShape } from '../kinds/shape.ts';
import { compact, type JsonObject, mapValues } from '../plain/json.ts';

/** The shape of a value as JSON Schema (draft 2020-12). */
export function shapeSchema(shape: Shape): JsonObject {
  switch (shape.is) {
    case 'text':
      return textSchema(shape);
    case 'number':
    case 'integer':
      return compact({ type: shape.is, minimum: shape.min, maximum: shape.max, enum: shape.values });
    case 'boolean':
      return { type: 'boolean' };
    case 'one of':
      if (shape.values.length > 0) return { enum: shape.values };
      return { not: {} };
    case 'keys':
      return keysSchema(shape);
    case 'list':
      return { type: 'array' };
    case 'either':
      return { anyOf: shape.shapes.map(shapeSchema) };
    case 'anything':
      return {};
    case 'by schema':
      return shape.schema;
  }
}

function textSchema({ format, min, max, patterns: [first, ...rest] = [] }: TextShape): JsonObject {
  return compact({
    type: 'string',
    format,
    minLength: min,
    maxLength: max,
    pattern: first,
    allOf: rest.length > 0 ? rest.map((pattern) => ({ pattern })) : undefined,
  });
}

function keysSchema({ keys, optional = [], isOpen = false }: Extract<Shape, { is: 'keys' }>): JsonObject {
  const required = Object.keys(keys).filter((key) => !optional.includes(key));
  return compact({
    type: 'object',
    properties: Object.keys(keys).length > 0 ? mapValues(keys, shapeSchema) : undefined,
    required: required.length > 0 ? required : undefined,
    additionalProperties: isOpen ? undefined : false,
  });
}
