import { open, visit, WIDE, PHONE } from './house.mjs';
const house = await open();
const TEXT = `Harvest rolls for the hall

500 g strong white flour
60 g wholemeal flour
2 tsp dried yeast
2 tsp salt
40 g butter, soft
330 ml warm milk
1 egg, beaten, for brushing
2 tbsp sunflower seeds for the tops

Method
Stir the yeast into the milk, warmed to 35 °C, and leave it for 10 minutes.
Add everything else and knead by hand for 12 minutes.
Let it rise in a warm place until doubled, about an hour and a quarter.
Divide into 12 pieces of 80 g, shape into rolls and put them on a baking sheet.
Cover and prove for 40 minutes. Brush with egg and sprinkle with the seeds.
Preheat the oven to 220 °C. Bake at 200 °C for 18 to 20 minutes.
Cool on a rack for half an hour.`;
let presses = 0;
await visit(house, '/formulas/bring', PHONE, async (page) => {
  await page.locator('#text').fill(TEXT);
  await page.getByRole('button', { name: 'Read', exact: true }).click(); presses++;
  await page.waitForLoadState();
  await page.screenshot({ path: '/tmp/r-phone.png', fullPage: true });
});
await visit(house, '/formulas/bring', WIDE, async (page) => {
  await page.locator('#text').fill(TEXT);
  await page.getByRole('button', { name: 'Read', exact: true }).click();
  await page.waitForLoadState();
  await page.screenshot({ path: '/tmp/r-wide.png', fullPage: true });
  await page.getByRole('button', { name: 'Make the formula' }).click();
  await page.waitForURL(/formula$/);
  const id = page.url().match(/formulas\/(\d+)/)[1];
  await page.goto(page.url().replace(/formula$/, 'rise'));
  await page.screenshot({ path: '/tmp/r-rise.png' });
  await page.goto(page.url().replace(/rise$/, 'oven'));
  await page.screenshot({ path: '/tmp/r-oven.png' });
  await page.goto(page.url().replace(/oven$/, 'day'));
  await page.screenshot({ path: '/tmp/r-day.png', fullPage: true });
});
await house.close?.(); process.exit(0);
