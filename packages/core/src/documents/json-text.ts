import { parse as parseJson, printParseErrorCode, visit, type ParseError } from 'jsonc-parser';
import type { ReadProblem } from './cursor';
import { readLimits, refuse } from './limits';
import { colonsIn, emptyShape } from './shape';

/** 1-based line and column of an offset. */
export function placeOf(text: string, offset: number): { line: number; column: number } {
  let line = 1;
  let start = 0;
  for (let i = text.indexOf('\n'); i >= 0 && i < offset; i = text.indexOf('\n', i + 1)) {
    line++;
    start = i + 1;
  }
  return { line, column: offset - start + 1 };
}

/** What one pass over a text finds without parsing it: how many members it writes, and where it is nested too deeply. */
interface Outline {
  readonly members: number;
  readonly tooDeepAt: number | undefined;
}

/** Runs over the text outside of its strings: colons count the members, brackets the depth. No recursion. */
function outline(text: string, limit: number): Outline {
  let depth = 0;
  let members = 0;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c === 34) {
      let end = text.indexOf('"', i + 1);
      while (end > 0 && isEscaped(text, end)) end = text.indexOf('"', end + 1);
      if (end < 0) break;
      i = end;
    } else if (c === 58) members++;
    else if (c === 123 || c === 91) {
      if (++depth > limit) return { members, tooDeepAt: i };
    } else if (c === 125 || c === 93) depth--;
  }
  return { members, tooDeepAt: undefined };
}

/** True when an odd number of backslashes stands before a quote. */
function isEscaped(text: string, quote: number): boolean {
  let n = 0;
  while (text.charCodeAt(quote - 1 - n) === 92) n++;
  return n % 2 === 1;
}

/**
 * Colons that the text of a value must have: one for each member, and those inside of names and texts. A text that has more
 * of them writes some member twice. `NaN` when it is nested more deeply than the limit.
 */
function colonsOf(value: unknown, limit: number): number {
  if (typeof value === 'string') return colonsIn(value);
  if (typeof value !== 'object' || value === null) return 0;
  if (limit === 0) return NaN;
  let n = 0;
  if (Array.isArray(value)) for (const v of value as unknown[]) n += colonsOf(v, limit - 1);
  else {
    const node = value as Record<string, unknown>;
    let shape = emptyShape();
    for (const name in node) {
      shape = shape.and(name);
      const below = node[name];
      if (typeof below === 'string' || typeof below === 'object') n += colonsOf(below, limit - 1);
    }
    n += shape.colons;
  }
  return n;
}

/** The value of a text that is right in every respect, the usual case; `undefined` when it is to be looked at more closely. */
function plainObject(text: string): Record<string, unknown> | undefined {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return undefined;
  }
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return undefined;
  // A colon that is written as an escape would stand in the value and not in the text.
  const same = colonsOf(value, readLimits.nesting) === colonsIn(text) && !text.includes('\\u003');
  return same ? (value as Record<string, unknown>) : undefined;
}

/** Members that a parsed value has, in all its objects. */
function countMembers(value: unknown): number {
  if (typeof value !== 'object' || value === null) return 0;
  let n = 0;
  if (Array.isArray(value)) for (const v of value as unknown[]) n += countMembers(v);
  else
    for (const v of Object.values(value)) {
      n++;
      if (typeof v === 'object') n += countMembers(v);
    }
  return n;
}

const faultWords: Record<string, string> = {
  InvalidSymbol: 'a word stands here that is no JSON value',
  InvalidNumberFormat: 'a number is written in a way JSON does not know',
  PropertyNameExpected: 'a member name in double quotes is missing',
  ValueExpected: 'a value is missing',
  ColonExpected: 'a colon is missing',
  CommaExpected: 'a comma is missing',
  CloseBraceExpected: 'a closing brace } is missing',
  CloseBracketExpected: 'a closing bracket ] is missing',
  EndOfFileExpected: 'more text follows after the end of the value',
  UnexpectedEndOfString: 'a text is not closed with a quote',
  InvalidCharacter: 'a character stands here that JSON does not allow',
  InvalidCommentToken: 'a comment stands here; JSON has none',
  UnexpectedEndOfComment: 'a comment stands here; JSON has none',
};

/** Member names written twice in one object (RFC 7951 forbids it): the second one's offset and name. */
function duplicateMembers(text: string): { name: string; offset: number }[] {
  const out: { name: string; offset: number }[] = [];
  const stack: Set<string>[] = [];
  visit(text, {
    onObjectBegin: () => {
      stack.push(new Set());
      return true;
    },
    onObjectProperty: (name, offset) => {
      const names = stack.at(-1);
      if (names?.has(name)) out.push({ name, offset });
      names?.add(name);
    },
    onObjectEnd: () => {
      stack.pop();
    },
  });
  return out;
}

/** Parses JSON text; every fault with its line, column and remedy. */
export function parseDocumentText(file: string, text: string): { tree?: Record<string, unknown>; problems: ReadProblem[] } {
  const plain = plainObject(text);
  if (plain) return { tree: plain, problems: [] };
  const { members, tooDeepAt: deep } = outline(text, readLimits.nesting);
  if (deep !== undefined)
    return {
      problems: [
        refuse(
          file,
          `The file is nested more than ${readLimits.nesting} levels deep.`,
          'A router document needs about 20; check what made this file.',
          placeOf(text, deep),
        ),
      ],
    };
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    const errors: ParseError[] = [];
    parseJson(text, errors, { disallowComments: true, allowTrailingComma: false });
    const first = errors[0];
    const words = first ? (faultWords[printParseErrorCode(first.error)] ?? 'it does not follow the JSON rules') : 'it does not follow the JSON rules';
    const place = placeOf(text, first?.offset ?? 0);
    return {
      problems: [
        refuse(
          file,
          `This file is not JSON: ${words} (line ${place.line}, column ${place.column}).`,
          'Mend the file at that place, or export it again from where it came.',
          place,
        ),
      ],
    };
  }
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    return {
      problems: [
        refuse(
          file,
          'The JSON in this file is not an object.',
          'A router document is an object with "ietf-system:system", "ietf-interfaces:interfaces" and "ietf-routing:routing".',
        ),
      ],
    };
  // A member written twice is one member of the value: only then is it worth finding where.
  const twice = countMembers(value) === members ? [] : duplicateMembers(text);
  const problems = twice.map(({ name, offset }) =>
    refuse(file, `The member "${name}" is written twice in one object.`, 'Keep one of the two; the last one was read.', {
      ...placeOf(text, offset),
      path: name,
    }),
  );
  return { tree: value as Record<string, unknown>, problems };
}
