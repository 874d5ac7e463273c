import { commands } from './entry';
import { areaKinds, parameters } from './parameters';

const scopes = { 'ospf-interface': 'interface in OSPF', interface: 'interface', cable: 'cable', area: 'area', process: 'router' } as const;

/** The page of the documentation that writes the grammar of quick entry down. */
export function grammarPage(): string {
  const verbs = commands.map((c) => `| \`${c.form.replaceAll('|', '\\|')}\` | ${c.help} | \`${c.example}\` |`);
  const leaves = parameters.map((p) => `| \`${p.name}\` | ${scopes[p.scope]} | ${p.help} | ${p.type.expected} |`);
  return `# Quick entry

One line that changes the design: press \`/\` anywhere, type, read what it would do, press Enter. Nothing happens before
Enter, and Undo takes it back. Capitals stand for what is typed, brackets for what may be left out; options come in any order.

| line | what it does | for example |
|---|---|---|
${verbs.join('\n')}

## Words

- \`ROUTER\` is a host name, \`ROUTER/INTERFACE\` an interface of it. In a \`TARGET\`, \`*\` stands for any part of a name.
- \`AREA\` is a number or a dotted id: \`10\` and \`0.0.0.10\` are one.
- \`PREFIX\` has a length (\`10.96.64.0/18\`), a mask (\`10.96.64.0/255.255.192.0\`, or with a space) or an inverted mask
  (\`10.96.64.0 0.0.63.255\`); the preview says how a mask was read. A mask with holes is refused.
- An address or a prefix may be of either family: the line is about the family of what was typed.
- \`TARGET\` is a router, \`ROUTER/INTERFACE\`, \`area AREA\`, \`all\`, or \`selected\` (the router chosen on the page); several may
  stand one after the other. A router stands for its interfaces that speak OSPF, loopbacks and passive ones left out.
- A text with spaces stands in double quotes.

## What is taken when nothing is said

- **Subnets and loopbacks**: from the pools that the design names (\`pool\`), first those of the area; else from where subnets
  of that kind lie in the area already; else from the area's range; else from the first /16 that nothing uses, so that an area
  can be summarised. Links are as long as the area's links mostly are, else /31; LANs likewise, else /24.
- **The area of a link**: that of the end which stands inside a single area, else the one that both share, the backbone first.
- **Settings of a link**: point-to-point, and the timers, authentication, BFD and MTU that all links of its area agree on.
- **The type of an area** on a router that is new to it: as the others have it.
- **The bandwidth of a link**, where costs come from bandwidths and no cost is said: that of most links of its area, else of
  the design. An unnumbered link borrows the addresses of loopbacks and is written into the topology document.
- Links and LANs leave alone the /24 in which loopbacks lie, as long as nothing else lies there.
- **clone** gives the copy a host name, a router id and loopbacks of its own, each out of the pool that the original's came
  from, the next free address on LANs, a subnet of its own where the original is alone, and cables of its own to the same
  neighbours, in the topology document too. Where the design has pools, nothing comes from elsewhere. Addresses of loopbacks
  that other routers have too are shared with the copy; addresses from outside the design and virtual links are not copied.
  \`without links\` leaves out every interface that stands on a wire with others. The copy joins the profile and the group of
  alike routers of the original.
- **move** takes the far ends of links along into the new area. With \`replan\`, addresses come out of the new area.
- **renumber** changes every end of the wire, and what names the old addresses: next hops, static neighbours, router ids.

## Both families

- **router, link, lan, clone, interface … loopback** act in both families where their routers run both: a /128 for a loopback, a
  /64 for a LAN, and for a link what most links of the area have, link-local addresses alone or a /127. **delete** and
  **rename** always act in both; **move** does where the router lies in the same area in both.
- Every other line is about IPv4 and OSPFv2, unless an address of IPv6 stands in it or \`v3\` before it. Where the same line
  would change something in OSPFv3, it is offered beside the preview.
- Free subnets of IPv6 come from pools of IPv6, else from where the like lie in the area, else from the area's range. \`ipv6\`
  cuts the site's prefix at hexadecimal digits, a block for each area: in it the first /64 for loopbacks, the second for links.

A line that would bring a document that cannot be read, or an address that is there already, is refused.

## Parameters of \`set\` and \`clear\`

\`set area-type ${areaKinds.join('|')} on area AREA\` changes the type on every router of the area.

| parameter | belongs to | meaning | values |
|---|---|---|---|
${leaves.join('\n')}

This page is written by \`node scripts/make-catalogue.mjs\`.
`;
}
