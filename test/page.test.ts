import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import axe from 'axe-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { closeBrowser, hasBrowser, opened, type Watched } from './support/browser.ts';
import { edit, lumbrik, workspace, write } from './support/program.ts';

/** What is written where any text may stand: each tries to leave its place in another way. */
const attacks = [
  '</script><script>document.title = "owned"</script>',
  '<img src=x onerror="document.title=\'owned\'">',
  '"><svg onload=alert(1)>',
  "' onmouseover='alert(1)",
  '</style><style>body{display:none}</style>',
  '<!-- --><iframe src="https://a.example/"></iframe>',
  'javascript:alert(1)',
  ']]><a href="javascript:alert(1)">x</a>',
  '&lt;b&gt; \u202eright to left',
];
const attack = attacks.join(' ');
const yaml = (value: unknown): string => JSON.stringify(value);

/** What of a page's marked parts is seen. */
const seen = ({ page }: Watched, selector: string): Promise<readonly string[]> =>
  page.locator(`${selector}:visible`).allInnerTexts();

describe.skipIf(!hasBrowser)('the page in a real browser [J5]', () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'lumbrik-page-'));
  const coast = path.join(folder, 'coast');
  const file = path.join(coast, 'report.html');

  beforeAll(async () => {
    await lumbrik(folder, ['new', 'coast', '--starter', 'lighthouses']);
    await lumbrik(coast, ['seal', '-m', 'The first model']);
    edit(coast, 'model/types/lighthouse.yaml', '  height:    { kind', '  focalHeight: { kind');
    edit(coast, 'model/types/lighthouse.yaml', 'max: 300', 'max: 200');
    await lumbrik(coast, ['migration', 'draft']);
    await lumbrik(coast, ['report']);
  });

  afterAll(async () => {
    await closeBrowser();
    rmSync(folder, { recursive: true, force: true });
  });

  test('asks for nothing, and complains of nothing', async () => {
    const { page, asked, complaints } = await opened(file);
    expect([asked, complaints]).toEqual([[], []]);
    expect(await page.title()).toBe('Gannet Sound Lighthouse Trust: the content model');
  });

  test.each([
    ['by day', {}],
    ['in the dark', { colorScheme: 'dark' as const }],
    ['on a phone', { viewport: { width: 390, height: 844 } }],
  ])('can be read by everybody, %s', async (_, options) => {
    const { page } = await opened(file, options);
    await page.addStyleTag({ content: 'article { content-visibility: visible !important }' }).catch(() => undefined);
    const found = await page.evaluate(`${axe.source}; axe.run(document, { resultTypes: ['violations'] })`);
    const { violations } = found as { violations: readonly { id: string; nodes: readonly { html: string }[] }[] };
    expect(violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`)).toEqual([]);
    // Nothing is wider than the window.
    expect(await page.evaluate('document.documentElement.scrollWidth <= innerWidth')).toBe(true);
  });

  test('shows what a word is found in, and all of it again', async () => {
    const watched = await opened(file);
    const { page } = watched;
    const all = (await seen(watched, 'article')).length;
    await page.keyboard.press('/');
    await page.keyboard.type('focalHeight');
    await expect.poll(() => page.textContent('output')).toMatch(/^[1-9]\d* found$/u);
    expect((await seen(watched, '#types article h3')).map((text) => text.split(' ')[0])).toEqual(['Lighthouses']);
    expect((await seen(watched, '#types tbody tr')).length).toBe(1);
    // A heading that has the word means all below it.
    await page.fill('input[type=search]', 'keepers');
    await expect.poll(() => page.isVisible('[id="field:keeper.name"]')).toBe(true);
    await page.fill('input[type=search]', 'no such word');
    await expect.poll(() => page.textContent('output')).toBe('0 found');
    await page.keyboard.press('Escape');
    await expect.poll(async () => (await seen(watched, 'article')).length).toBe(all);
  });

  test('a link leads there, whatever was looked for', async () => {
    const { page } = await opened(file);
    await page.fill('input[type=search]', 'departures');
    await expect.poll(() => page.isVisible('[id="type:page"]')).toBe(false);
    await page.evaluate("location.hash = 'field:page.parts.tour'");
    await expect.poll(() => page.isVisible('[id="field:page.parts.tour"]')).toBe(true);
    expect(await page.inputValue('input[type=search]')).toBe('');
  });

  test('every link on it leads somewhere on it', async () => {
    const { page } = await opened(file);
    const lost = await page.evaluate(
      "[...document.querySelectorAll('a')].map((a) => a.getAttribute('href')).filter((to) => !to.startsWith('#') || !document.getElementById(to.slice(1)))",
    );
    expect(lost).toEqual([]);
    const ids = (await page.evaluate("[...document.querySelectorAll('[id]')].map(({ id }) => id)")) as string[];
    expect(ids.length).toBe(new Set(ids).size);
  });

  test('without script everything is there, and no field that does nothing', async () => {
    const watched = await opened(file, { javaScriptEnabled: false });
    expect(await watched.page.isVisible('input[type=search]')).toBe(false);
    expect((await seen(watched, 'tbody tr')).length).toBeGreaterThan(100);
    await watched.page.check('text=In full size');
    expect(await watched.page.locator('.picture svg').evaluate((svg) => svg.clientWidth)).toBeGreaterThan(1280);
  });

  test('is printed whole, without what is of use on a screen alone', async () => {
    const { page } = await opened(file);
    await page.fill('input[type=search]', 'departures');
    await expect.poll(() => page.isVisible('[id="type:page"]')).toBe(false);
    await page.emulateMedia({ media: 'print' });
    await page.evaluate("dispatchEvent(new Event('beforeprint'))");
    expect(await page.isVisible('[id="type:page"]')).toBe(true);
    expect(await page.isVisible('nav')).toBe(false);
    await page.evaluate("dispatchEvent(new Event('afterprint'))");
    expect(await page.isVisible('[id="type:page"]')).toBe(false);
    expect((await page.pdf({ format: 'A4' })).length).toBeGreaterThan(50_000);
  });

  test('nothing in a model or an entry becomes markup or script', async () => {
    const folder = workspace({
      'lumbrik.yaml': `workspace: ${yaml(attack)}\n`,
      'model/types/light.yaml': `type: light\nlabel: { one: ${yaml(attack)}, many: ${yaml(attack)} }\nabout: ${yaml(attack)}\nguide: ${yaml(attack)}\ngroups: [${yaml(attack)}]\ntitled: name\nfields:\n  name: { kind: text, max: 10, label: ${yaml(attack)}, help: ${yaml(attack)}, example: ${yaml(attack.slice(0, 9))}, group: ${yaml(attack)} }\n  pace: { kind: choice, choices: [{ choice: easy, label: ${yaml(attack)} }] }\n  topics: { kind: term, taxonomy: topic, many: true }\n  next: { kind: reference, to: light, inverse: ${yaml(attack)} }\n  free: { kind: json }\nrules:\n  - { expect: "entry.name != 'x'", say: ${yaml(attack)} }\n`,
      'model/taxonomies/topic.yaml': `taxonomy: topic\nopen: true\nlabel: ${yaml(attack)}\nabout: ${yaml(attack)}\n`,
      'content/topic.terms.yaml': `taxonomy: topic\nterms: [{ term: birds, label: ${yaml(attack)} }]\n`,
      'content/light/a.yaml': `name: ${yaml(attack)}\npace: ${yaml(attack)}\n${yaml(attack)}: 1\ntopics: [birds, ${yaml(attack)}]\nnext: ${yaml(attack)}\nfree: { ${yaml(attack)}: ${yaml(attack)} }\n`,
      'content/light/b.yaml': 'name: x\n',
    });
    await lumbrik(folder, ['seal', '-m', attack]);
    edit(folder, 'model/types/light.yaml', 'max: 10', 'max: 9');
    write(folder, { 'content/light/c.yaml': `name: ${yaml(attacks[0])}\n` });
    expect((await lumbrik(folder, ['report'])).err).toBe('');
    const { page, asked, complaints } = await opened(path.join(folder, 'report.html'));
    expect([asked, complaints]).toEqual([[], []]);
    expect(await page.title()).toContain('</script><script>');
    const made = await page.evaluate(`({
      scripts: document.scripts.length,
      styles: document.querySelectorAll('style').length,
      foreign: document.querySelectorAll('img, iframe, main svg svg, b[onmouseover]').length,
      handlers: [...document.querySelectorAll('*')].flatMap((one) => [...one.attributes].filter(({ name }) => name.startsWith('on'))).length,
      links: [...document.querySelectorAll('a')].filter((a) => !a.getAttribute('href').startsWith('#')).length,
    })`);
    expect(made).toEqual({ scripts: 1, styles: 1, foreign: 0, handlers: 0, links: 0 });
    expect(await page.textContent('h1')).toContain('<img src=x');
  });

  test('and what would be added to it is not run', async () => {
    const { page } = await opened(file);
    const ran = await page.evaluate(`new Promise((done) => {
      const script = document.createElement('script');
      script.textContent = 'window.ran = true';
      document.body.append(script);
      setTimeout(() => done(window.ran === true), 50);
    })`);
    expect(ran).toBe(false);
  });
});
