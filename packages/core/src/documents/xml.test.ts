import { parseXml } from './xml';

describe('XML that goes on after its first fault', () => {
  const deep = (n: number): string =>
    `<config xmlns="urn:ietf:params:xml:ns:netconf:base:1.0">${'<a xmlns="urn:x">'.repeat(n)}${'</a>'.repeat(n)}</config>`;
  /** Octets of a text that are looked at until the end: counted by a text that tells. */
  const lookedAt = (text: string): number => {
    let most = 0;
    parseXml('x.xml', text, 100, (_, place) => (most = Math.max(most, place.column)));
    return most;
  };

  test('is read up to the fault: nesting, form, document type', () => {
    const behind = '<address>1</address>'.repeat(50_000);
    expect(lookedAt(`<config>${'<a>'.repeat(101)}${behind}`)).toBeLessThan(500);
    expect(lookedAt(`<config><a></b>${behind}`)).toBeLessThan(50);
    expect(lookedAt(`<!DOCTYPE config><config>${behind}</config>`)).toBe(0);
    expect(lookedAt(`<config>${behind}</config>`)).toBeGreaterThan(300_000);
  });

  test('tells the first fault and where it is, once', () => {
    expect(parseXml('x.xml', deep(20_000), 100).problems).toMatchObject([{ message: 'The file is nested more than 100 levels deep.', line: 1 }]);
    expect(parseXml('x.xml', '<config><a>1</a><a>2</a></c>', 100).problems).toMatchObject([{ message: '"a" stands twice in one node.' }]);
  });
});
