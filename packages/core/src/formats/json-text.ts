import { parse as parseJson, printParseErrorCode, visit, type ParseError } from 'jsonc-parser';
import type { ReadProblem } from './cursor';
import { readLimits, refuse } from './limits';

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

/** Nesting deeper than `limit`, found without recursion; the offset where it begins. */
function tooDeep(text: string, limit: number): number | undefined {
  let depth = 0;
  let inText = false;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (inText) {
      if (c === 92) i++;
      else if (c === 34) inText = false;
    } else if (c === 34) inText = true;
    else if (c === 123 || c === 91) {
      if (++depth > limit) return i;
    } else if (c === 125 || c === 93) depth--;
  }
  return undefined;
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
  const deep = tooDeep(text, readLimits.nesting);
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
  const problems = duplicateMembers(text).map(({ name, offset }) =>
    refuse(file, `The member "${name}" is written twice in one object.`, 'Keep one of the two; the last one was read.', {
      ...placeOf(text, offset),
      path: name,
    }),
  );
  return { tree: value as Record<string, unknown>, problems };
}
