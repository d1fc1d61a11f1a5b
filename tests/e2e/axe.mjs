// Every view of the demo plant, looked at by axe in light and in dark; two files share the views, so that two workers can.
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { test, expect } from './test.mjs';

const axe = readFileSync(fileURLToPath(import.meta.resolve('axe-core/axe.min.js')), 'utf8');

async function views(demo) {
  const [equipment, templates, controllers] = [await demo.api('/equipment'), await demo.api('/templates'), await demo.api('/controllers')];
  const kiln = templates.find(t => t.code === 'Kiln').id;
  const airOn = templates.find(t => t.code === 'Kiln').properties.find(p => p.code === 'AirOn').id;
  const heat = templates.find(t => t.code === 'Kiln').properties.find(p => p.code === 'HeatToAir').id;
  const setpoint = templates.find(t => t.code === 'TemperatureLoop').properties.find(p => p.code === 'Setpoint').id;
  const loop = equipment.find(e => e.path.endsWith('KLN1/AirOnLoop')).id;
  const box = controllers.find(c => c.name === 'box-edge').id;
  const boxes = templates.find(t => t.code === 'GerminationBox');
  const box2 = {
    template: boxes.id,
    cell: `${equipment.find(e => e.code === 'BOX2').id}.${boxes.properties.find(p => p.code === 'Humidity').id}`,
  };
  const ashholt = equipment.find(e => e.code === 'Ashholt').id;
  const [house, one, two] = ['KilnHouse', 'KLN1', 'KLN2'].map(code => equipment.find(e => e.code === code).id);
  const first = (await demo.api('/tags')).slice(0, 3).map(t => t.id);
  return [
    '/controllers',
    `/controllers?open=tag&at=${controllers[0].id}`,
    '/controllers?open=controller',
    `/templates?at=${kiln}`,
    `/templates?open=property&at=${kiln}`,
    `/templates?open=change&at=${kiln}`,
    `/templates?open=part&at=${kiln}`,
    `/templates?open=uses&at=${kiln}`,
    `/templates?open=remove&at=${kiln}`,
    '/states',
    '/plant',
    '/plant?open=add',
    `/plant?open=series&at=${house}`,
    `/plant?open=copy&at=${one}`,
    `/plant?open=move&at=${one}`,
    `/plant?at=${one}&property=${airOn}`,
    `/plant?at=${one}&with=${two}&property=${airOn}`,
    '/scales',
    '/scales?open=new',
    '/units',
    '/units?unit=MQH',
    '/units?open=new',
    `/chain?at=${one}&property=${airOn}&value=60`,
    `/templates?at=${kiln}&property=${airOn}`,
    `/templates?at=${kiln}&property=${heat}`,
    '/calendar',
    `/live?at=${one}&unit=CEL`,
    '/exchange',
    '/journal?entry=30',
    '/journal?commands=true',
    `/bindings?template=${kiln}`,
    `/bindings?template=${box2.template}&cell=${box2.cell}`,
    `/bindings?place=${ashholt}`,
    `/bindings?template=${kiln}&cell=${two}.${airOn}&moving=true`,
    `/checks?template=${kiln}`,
    `/live?at=${loop}&command=${loop}.${setpoint}`,
    '/alarms',
    '/alarms/log',
    '/alarms/load',
    `/trends?template=${kiln}`,
    `/machine?at=${two}`,
    `/compare?template=${kiln}`,
    '/recorded?q=KLN2',
    '/codes',
    '/alarms/limits',
    '/alarms/rules',
    '/alarms/told',
    '/findings',
    '/review',
    '/review?since=1&until=2',
    '/checks/sheet',
    '/findings/kinds',
    '/alarms/told?open=Shift%20lead',
    '/alarms/responses?add=true',
    '/journal',
    `/controllers?at=${box}&filter=box/1`,
    '/controllers?open=controller&protocol=Mqtt',
    '/controllers?open=controller&protocol=Sparkplug',
    '/controllers?open=controller&protocol=OpcUa',
    '/certificates',
    `/browse?at=${box}&filter=box-1`,
    `/taglist?at=${box}`,
    `/make?at=${controllers[0].id}&tags=${first.join('.')}`,
    '/states?from=OffOn',
    `/plant?at=${ashholt}`,
    `/taglist?at=${controllers[0].id}`,
    '/live',
    '/layouts',
    '/layouts?open=devices',
    '/layouts?open=change',
    '/stand-ins',
  ];
}

// What depends on how wide a page is; contrast is that of the wide page, and is looked at again in one of the two themes for what is
// shown only on a narrow one.
const ofWidth = ['scrollable-region-focusable', 'target-size', 'meta-viewport'];

export function axeFindsNothing(half) {
  test(`axe finds nothing serious in every second view, wide and narrow, light and dark, from view ${half}`, async ({ page, demo }) => {
    test.setTimeout(240_000);
    await demo.asShipped();
    // Colours that are still on their way from one theme to the other are nobody's.
    await page.emulateMedia({ reducedMotion: 'reduce' });
    const tools = await page.context().newCDPSession(page);
    for (const view of (await views(demo)).filter((_, place) => place % 2 === half)) {
      await page.setViewportSize({ width: 1280, height: 800 });
      await page.goto(demo.base + view);
      // The page is loaded once, and axe put into it once: themes differ in colour alone, and a narrow page in what its width changes.
      await tools.send('Runtime.evaluate', { expression: `${axe};0` });
      // What is said again and again, in the same words of markup, is looked at in its first rows; the rest and what is drawn go before axe
      // comes, which asks of each thing whether it is left out. Their room stays: what scrolled still does, and keys have to reach it.
      await page.evaluate(() => {
        document.querySelectorAll('svg > :not(title, desc)').forEach(it => it.remove());
        for (const body of document.querySelectorAll('tbody')) {
          const rest = [...body.rows].slice(6);
          const room = rest.reduce((sum, row) => sum + row.getBoundingClientRect().height, 0);
          rest.forEach(row => row.remove());
          if (room > 0) body.insertRow().insertCell().style.height = `${room}px`;
        }
      });
      const look = (what, rules) =>
        page.evaluate(
          async ([what, rules]) => {
            const only = rules ? { runOnly: { type: 'rule', values: rules } } : {};
            const { violations } = await window.axe.run(document, { resultTypes: ['violations'], ...only });
            return violations
              .filter(v => ['serious', 'critical'].includes(v.impact))
              .map(v => `${what}: ${v.id} ${v.nodes.map(n => `${n.target} ${n.failureSummary}`).slice(0, 3)}`);
          },
          [`${view}, ${what}`, rules],
        );
      const theme = to =>
        page.evaluate(to => {
          document.documentElement.dataset.bsTheme = to;
        }, to);
      const found = await look('light');
      await theme('dark');
      found.push(...(await look('dark', ['color-contrast'])));
      await page.setViewportSize({ width: 390, height: 800 });
      // A row that has been scrolled half under a heading that stays is small only until it is scrolled on.
      await page.evaluate(() => document.querySelectorAll('[data-listing-scroll]').forEach(list => list.scrollTo(0, 0)));
      found.push(...(await look('dark at 390 px', [...ofWidth, 'color-contrast'])));
      expect.soft(found).toEqual([]);
    }
  });
}
