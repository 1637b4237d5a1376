import { expect, test, type Page } from '@playwright/test';
import { settled, smallPlate } from '../e2e/helpers';
import { lastBefore, startChromium, withProfile, type Typed } from '../e2e/killable';

const KILLS = 20;
/** What is kept may be so old. */
const MOST_MS = 1000;
const exposure = (page: Page) => page.getByRole('textbox', { name: 'Film Exposure' });
const plates = (page: Page) => page.getByRole('button', { name: /^Plate / });

/** Types values until it is stopped, and notes when each was taken. */
async function typeSteadily(page: Page, typed: Typed[], from: number, until: number): Promise<void> {
  for (let k = 0; Date.now() < until; k++) {
    const value = Number((from + k * 0.01).toFixed(2));
    await exposure(page).fill(String(value));
    await exposure(page).press('Enter');
    typed.push({ value, at: Date.now() });
    await page.waitForTimeout(40 + (k % 5) * 20);
  }
}

test(`a browser that is killed ${KILLS} times in the midst of changes and of keeping plates loses nothing older than a second`, async ({
  baseURL,
}) => {
  test.setTimeout(30 * 60_000);
  await withProfile(async (profile) => {
    const typed: Typed[] = [];
    let expected: number | undefined;
    let shown = 1;
    for (let round = 0; round <= KILLS; round++) {
      const { page, kill } = await startChromium(profile);
      await page.goto(baseURL!);
      await settled(page);
      await page.keyboard.press('7');
      if (round > 0) {
        const kept = Number(await exposure(page).inputValue());
        expect(kept).toBeGreaterThanOrEqual(expected ?? -Infinity);
        // A plate whose tile was there is there whole.
        expect(await plates(page).count()).toBeGreaterThanOrEqual(shown);
        for (const plate of await plates(page).all()) {
          await plate.click();
          await settled(page);
        }
        console.log(
          `kill ${round}: kept ${kept}, wanted ${expected ?? 'anything'}; plates ${await plates(page).count()}`,
        );
      }
      if (round === KILLS) return void (await kill());
      const from = (typed.at(-1)?.value ?? 0) + 0.01;
      // Every other time a large plate is being kept when the kill comes.
      if (round % 2 === 1)
        await page.getByTestId('file-input').setInputFiles({
          name: `large${round}.exr`,
          mimeType: 'application/octet-stream',
          buffer: await smallPlate(1200, 900),
        });
      await typeSteadily(page, typed, from, Date.now() + 300 + ((round * 397) % 1900));
      shown = await plates(page).count();
      const moment = Date.now();
      await kill();
      expected = lastBefore(typed, moment, MOST_MS) ?? expected;
    }
  });
});
