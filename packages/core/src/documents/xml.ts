import { SaxesParser } from 'saxes';
import type { DocumentPath } from './document-path';
import { type ReadProblem } from './cursor';
import { localName } from './shape';
import { xmlText } from './xml-text';

/** Modules whose XML namespace is not built from the IETF's stem. */
const ours: Readonly<Record<string, string>> = { 'gentle-compass': 'urn:gentle-compass:ospf-design' };
const stem = 'urn:ietf:params:xml:ns:yang:';
const netconf = 'urn:ietf:params:xml:ns:netconf:base:1.0';

const moduleOf = (namespace: string): string =>
  Object.entries(ours).find(([, ns]) => ns === namespace)?.[0] ?? (namespace.startsWith(stem) ? namespace.slice(stem.length) : namespace);
const namespaceOf = (module: string): string => ours[module] ?? (module.includes(':') || module.includes('/') ? module : stem + module);

/** Nodes that are lists or leaf-lists wherever they stand in the trees that we read. */
const lists = new Set([
  'address',
  'neighbor',
  'control-plane-protocol',
  'route',
  'next-hop-entry',
  'area',
  'range',
  'virtual-link',
  'redistribution',
  'other-routes',
  'external-ranges',
  'activation',
  'prefix-list',
  'tag-value',
  'policy-definition',
  'statement',
  'key-chain',
  'key',
  'network',
  'node',
  'link',
  'termination-point',
  'risk-groups',
  'policy',
  'rib-policy',
  'carried-by',
  'summary-in-policy',
  'summary-out-policy',
  'members',
  'profile',
  'alike',
  'router',
  'timers',
  'expectation',
  'accepted',
]);
/** `interface` is a list in its container, and `advertise` a leaf-list on an interface but a flag in a range. */
const isList = (name: string, parent: string): boolean =>
  lists.has(name) ||
  ['interface', 'prefix-set', 'tag-set'].some((n) => n === name && parent === `${n}s`) ||
  (name === 'advertise' && parent === 'interface') ||
  (name === 'next-hop' && parent === 'next-hop-list');

const flags = new Set([
  'enabled',
  'passive',
  'summary',
  'mtu-ignore',
  'prefix-suppression',
  'advertise',
  'authentication-required',
  'default-route',
  'rfc1583-compatible',
  'counts-empty-areas',
  'carrier-loss-seen',
]);
const texts = new Set([
  'name',
  'hostname',
  'ip',
  'area-id',
  'router-id',
  'prefix',
  'ip-prefix',
  'destination-prefix',
  'next-hop-address',
  'explicit-router-id',
  'keystring',
  'hexadecimal-string',
  'ospfv2-key',
  'ospfv3-key',
  'identifier',
  'match',
  'transit-area-id',
  'description',
  'note',
  'bind-ni-name',
  'key-id',
  'netmask',
]);

type Tree = Record<string, unknown>;
interface Frame {
  readonly name: string;
  readonly member: string;
  readonly module: string;
  readonly tree: Tree;
  readonly at: DocumentPath;
  text: string;
  children: number;
}

function leafValue(frame: Frame): unknown {
  const text = frame.text.trim();
  const name = localName(frame.member);
  if (flags.has(name) && (text === 'true' || text === 'false')) return text === 'true';
  if (!texts.has(name) && /^(0|-?[1-9]\d{0,14})$/.test(text)) return Number(text);
  return text;
}

const empty = (frame: Frame): boolean => frame.children === 0 && frame.text.trim() === '';

/** Nodes that are containers or empty leaves when nothing stands in them. */
const bareContainers = new Set(['always', 'ipv4', 'ipv6', 'interfaces', 'areas', 'ospf', 'static-routes']);

/** Ends the parsing at the first fault: what comes after it says nothing more. */
class Ended extends Error {}

/**
 * Reads an XML document into the tree that the same document has in JSON (RFC 7951), out of `<config>` or `<data>` of
 * RFC 6241 or bare. Document types, and with them entities of one's own, are refused; nesting is bounded.
 *
 * @param onNode  told of every node: its path in the tree, and the 1-based line and column where its tag begins
 */
export function parseXml(
  file: string,
  text: string,
  nesting: number,
  onNode?: (at: DocumentPath, place: { line: number; column: number }) => void,
): { tree?: Tree; problems: ReadProblem[] } {
  const parser = new SaxesParser({ xmlns: true, position: true });
  const root: Frame = { name: '', member: '', module: '', tree: {}, at: [], text: '', children: 0 };
  const stack: Frame[] = [root];
  let fault: ReadProblem | undefined;
  const refuse = (message: string, remedy: string): never => {
    fault = {
      severity: 'error',
      file,
      path: stack
        .slice(1)
        .map((f) => f.name)
        .join('/'),
      line: parser.line,
      column: parser.columnIndex + 1,
      message,
      remedy,
    };
    throw new Ended();
  };
  const put = (parent: Frame, frame: Frame, value: unknown): void => {
    parent.children++;
    if (!isList(frame.name, parent.name)) {
      if (Object.hasOwn(parent.tree, frame.member)) refuse(`"${frame.name}" stands twice in one node.`, 'Keep one of the two.');
      parent.tree[frame.member] = value;
      return;
    }
    const list = parent.tree[frame.member];
    if (Array.isArray(list)) list.push(value);
    else parent.tree[frame.member] = [value];
  };
  parser.on('error', (e) =>
    refuse(
      `This file is not well-formed XML: ${e.message.replace(/^\d+:\d+: /, '')}`,
      'Mend the file at that place, or export it again from where it came.',
    ),
  );
  parser.on('doctype', () => refuse('This file has a document type.', 'Take the <!DOCTYPE …> out; entities of a document type are not read.'));
  let begins = { line: 1, column: 1 };
  parser.on('opentagstart', (tag) => {
    // The parser stands behind the name and the character that ended it.
    begins = { line: parser.line, column: Math.max(1, parser.columnIndex - tag.name.length - 1) };
  });
  parser.on('opentag', (tag) => {
    const parent = stack.at(-1) ?? root;
    if (stack.length > nesting)
      refuse(`The file is nested more than ${nesting} levels deep.`, 'A router document needs about 20; check what made this file.');
    const envelope = tag.uri === netconf || (stack.length === 1 && (tag.local === 'config' || tag.local === 'data'));
    if (envelope) {
      stack.push({ ...parent, name: tag.local });
      return;
    }
    const module = moduleOf(tag.uri);
    const member = module === parent.module || module === '' ? tag.local : `${module}:${tag.local}`;
    const before = parent.tree[member];
    const at = isList(tag.local, parent.name) ? [...parent.at, member, Array.isArray(before) ? before.length : 0] : [...parent.at, member];
    onNode?.(at, begins);
    stack.push({ name: tag.local, member, module, tree: {}, at, text: '', children: 0 });
  });
  const addText = (t: string): void => {
    const frame = stack.at(-1);
    if (frame) frame.text += t;
  };
  parser.on('text', addText);
  parser.on('cdata', addText);
  parser.on('closetag', (tag) => {
    const frame = stack.pop();
    const parent = stack.at(-1);
    if (!frame || !parent || (tag.uri === netconf && frame.member === parent.member) || frame.tree === parent.tree) return;
    put(
      parent,
      frame,
      frame.children > 0 ? frame.tree : empty(frame) && (bareContainers.has(frame.name) || frame.name.endsWith('s')) ? {} : leafValue(frame),
    );
  });
  try {
    parser.write(text).close();
  } catch (e) {
    if (!(e instanceof Ended)) throw e;
  }
  return fault ? { problems: [fault] } : { tree: root.tree, problems: [] };
}

function writeNode(member: string, value: unknown, module: string, indent: string, out: string[]): void {
  if (Array.isArray(value)) {
    if (value.length === 1 && value[0] === null) writeNode(member, '', module, indent, out);
    else for (const v of value) writeNode(member, v, module, indent, out);
    return;
  }
  const colon = member.indexOf(':');
  const own = colon < 0 ? module : member.slice(0, colon);
  const name = localName(member);
  const open = own === module ? name : `${name} xmlns="${xmlText(namespaceOf(own))}"`;
  if (typeof value === 'object' && value !== null) {
    const children = Object.entries(value as Tree);
    if (children.length === 0) out.push(`${indent}<${open}/>`);
    else {
      out.push(`${indent}<${open}>`);
      for (const [m, v] of children) writeNode(m, v, own, `${indent}  `, out);
      out.push(`${indent}</${name}>`);
    }
  } else out.push(`${indent}<${open}>${xmlText(String(value))}</${name}>`);
}

/** Writes a tree as XML inside `<config>` (RFC 6241). Identities keep the prefix that they have in JSON. */
export function writeXml(tree: Tree): string {
  const out = ['<?xml version="1.0" encoding="UTF-8"?>', `<config xmlns="${netconf}">`];
  for (const [member, value] of Object.entries(tree)) writeNode(member, value, netconf, '  ', out);
  return `${[...out, '</config>'].join('\n')}\n`;
}
