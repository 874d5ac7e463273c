import { catalogue } from './catalogue';

/** The page of the documentation that lists every check. */
export function cataloguePage(): string {
  const lines = catalogue.map((c) => `| \`${c.rule}\` | ${c.about} |`);
  return `# The catalogue of findings

${catalogue.length} checks, in the order in which people work. \`check\` runs all of them; the pages show each finding at its stage. A finding
names its places (file, line and node), the values it rests on, what it costs in this network, and the smallest edits
that mend it. \`neighbours-apart\` tells each of its reasons under a rule of its own: area, area-type, hello-interval,
dead-interval, mask, authentication, passive, disabled, duplicate-router-id; \`authentication-key\` tells key-missing and
key-not-switched-on.

| rule | what it finds |
|---|---|
${lines.join('\n')}

This page is written by \`node scripts/make-catalogue.mjs\`.
`;
}
