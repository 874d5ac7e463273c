import { look, browser, type } from './.look.mjs';
await look('p1', '/?family=6');
await look('p2', '/?family=6&stage=routes&router=kelp-3');
await look('p3', '/?family=6&table=interfaces');
await look('p4', '/?table=families');
await look('p5', '/?family=6&stage=neighbours&pair=tidepool-3%2Fto-tidepool-4~tidepool-4%2Fto-tidepool-3');
await look('p6', '/', async (p) => {
  await p.getByRole('button', { name: 'Open or export' }).click();
  await p.getByRole('menuitem', { name: 'An empty design' }).click();
  await p.getByRole('button', { name: 'Lay a campus out' }).click();
  await p.getByLabel('IPv6 prefix of the site').fill('2001:db8:40::/48');
  await p.getByText(/routers come/).waitFor();
});
await look('p7', '/?family=6&table=plan');
await look('p8', '/?family=6&stage=failures&fail=router:tidepool-1');
await browser.close();
