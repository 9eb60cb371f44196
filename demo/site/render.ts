import type { DemoPage } from './pages';
import { PAGES } from './pages';
import { drawScene } from './scene';

export interface Snippet {
  readonly collector: string;
  readonly siteKey: string;
}

const MAIN = ['/huts', '/routes', '/journal', '/gear-hire', '/courses', '/membership', '/offers', '/book'];
const BOOKING = ['/book', '/book/guests', '/book/extras', '/book/pay', '/book/done'];

/** A whole page of the demo site with the snippet in its head. `root` is "" or, in the single-page build, "/app". */
export function renderPage(page: DemoPage, { collector, siteKey }: Snippet, root: '' | '/app' = ''): string {
  const link = (path: string): string => root + path;
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">
<title>${page.title} · Tarnhollow Huts</title>${page.kind === 'article' ? '<meta property="og:type" content="article"><meta property="article:section" content="winter">' : ''}
<link rel="stylesheet" href="/site.css"><link rel="icon" href="data:,">
<script>(window.crindle={q:[]}),['did','person','tag','score','consent','open','on','stop'].forEach(function(m){crindle[m]=function(){crindle.q.push([m].concat([].slice.call(arguments)))}})</script>
<script async src="${collector}/page.js" data-site="${siteKey}"></script></head>
<body data-crindle-label="${page.kind}">
<header><a class="mark" href="${link('/')}">Tarnhollow<span>huts since 1921</span></a>
<nav aria-label="Main">${MAIN.map((path) => `<a href="${link(path)}"${page.path.startsWith(path) ? ' aria-current="page"' : ''}>${titleOf(path)}</a>`).join('')}<a href="${link('/account')}">Account</a></nav></header>
<div id="page">${drawScene(page.path, page.mood)}
<main><h1>${page.title}</h1><p class="lead">${page.lead}</p>
${page.paragraphs.map((text) => `<p>${text}</p>`).join('\n')}
${page.kind === 'article' ? hutBook(page) : ''}
${bodyOf(page, link)}</main></div>
<footer><p>Tarnhollow Huts is a made-up cooperative. <a href="${link('/contact')}">Contact</a></p></footer>
<script src="/site.js" defer></script></body></html>`;
}

const titleOf = (path: string): string => PAGES.find((one) => one.path === path)?.title ?? path;

/** Long reads end with notes from the hut book, a scene between them. */
function hutBook(page: DemoPage): string {
  const from = page.title.length % NOTES.length;
  const notes = [...NOTES.slice(from), ...NOTES.slice(0, from)].slice(0, 8).map((text) => `<p>${text}</p>`);
  return `${drawScene(`${page.path}/book`)}<h2>From the hut book</h2>${notes.slice(0, 4).join('\n')}${drawScene(`${page.path}/later`)}${notes.slice(4).join('\n')}`;
}

const NOTES: readonly string[] = [
  'Came up in sun, went to bed in rain, woke up in cloud. All three were somebody’s favourite.',
  'Whoever took the blue mug: it has been to every hut now and would like to come home.',
  'The boy asked how old the mountain is. The warden said: older than supper, younger than the lake. He wrote it down.',
  'Four of us, one map, and five opinions about it. We followed the posts.',
  'Two hours on the bench and not a word. Best conversation of the year.',
  'We counted eleven stars before the cloud shut the lid. My wife says twelve.',
  'Left at six with frost on the rail. The stove was warm still, and so was the bread.',
  'If you meet a dog called Biscuit on the drove road, she is not lost. She is on patrol.',
  'The short cut is not one. Signed, three people with wet feet.',
  'Thank you for the socks. They are dry, darned, and on the nail by the door.',
  'At the col the wind took my hat to the other valley. I have decided to follow it next year.',
  'Sang until the lamp went out, and then a little more quietly.',
];

type Link = (path: string) => string;

function bodyOf(page: DemoPage, link: Link): string {
  const slug = page.path.split('/').at(-1) ?? '';
  switch (page.kind) {
    case 'home':
    case 'huts':
      return list('hut', link);
    case 'routes':
      return list('route', link);
    case 'journal':
      return list('article', link);
    case 'gear':
      return list('kit', link);
    case 'courses':
      return list('course', link);
    case 'hut':
      return `<p><a class="act" id="book-now" href="${link('/book')}">Book a bunk here</a></p>${elevation(page.path)}`;
    case 'route':
      return `${elevation(page.path)}<p><a class="act" href="${link('/huts')}">See the huts on the way</a></p>`;
    case 'kit':
      return `<p><button class="act" data-kit="${slug}">Put it in the basket</button> <button class="act" data-quote>Ask for a price</button></p>`;
    case 'course':
      return `<button class="film" data-film="${slug}">Play the film: two days in four minutes</button><p><button class="act" data-course="${slug}">Put me on the list</button></p>`;
    case 'membership':
      return `<section class="signup" id="join"><h2>Become a member</h2><p>One grown-up, or a whole family under one roof.</p><button class="act" data-join="single">Join alone</button> <button class="act" data-join="family">Join as a family</button></section>`;
    case 'book':
      return booking(page.path, link);
    case 'offers':
      return '<div class="slot" data-crindle-slot="offer"></div>';
    case 'account':
      return '<form class="book account"><label>Email<input type="email" name="email" value="runa@post.example" required></label><button class="act">Sign in</button></form>';
    case 'article':
    case 'contact':
    case 'done':
      return '';
  }
}

/** One step of the booking; the basket lives in the browser. */
function booking(path: string, link: Link): string {
  const at = BOOKING.indexOf(path);
  const next = BOOKING[at + 1] ?? '/book/done';
  const fields: Record<string, string> = {
    '/book': `<label>Hut<select name="hut">${PAGES.filter((one) => one.kind === 'hut' && !one.path.endsWith('/closed'))
      .map((one) => `<option>${one.title}</option>`)
      .join('')}</select></label><label>First night<input type="date" name="night" id="night"></label>`,
    '/book/guests': '<label>Guests<input type="number" name="guests" id="guests" min="1" max="8" value="2"></label>',
    '/book/extras':
      '<label class="tick"><input type="checkbox" name="supper" checked>Supper</label><label class="tick"><input type="checkbox" name="lunch">A packed lunch</label>',
    '/book/pay': '<label>Pay<select name="pay"><option>at the door</option><option>now, by transfer</option></select></label>',
  };
  const steps = BOOKING.slice(0, 4)
    .map((one, index) => `<li${index === at ? ' aria-current="step"' : ''}>${['Night', 'Guests', 'Extras', 'Pay'][index]}</li>`)
    .join('');
  return `<ol class="steps">${steps}</ol><form class="book" action="${link(next)}">${fields[path] ?? ''}<button class="act">${at === 3 ? 'Book the bunks' : 'Go on'}</button></form>`;
}

const list = (kind: DemoPage['kind'], link: Link): string =>
  `<ul class="tiles">${PAGES.filter((page) => page.kind === kind)
    .map(
      (page) =>
        `<li><a href="${link(page.path)}">${drawScene(page.path, page.mood)}<strong>${page.title}</strong><span>${page.lead}</span></a></li>`,
    )
    .join('')}</ul>`;

const elevation = (seed: string): string =>
  `<h2>The way up</h2>${drawScene(`${seed}/way`)}<p>Ascent, water and shelter are marked on the posts.</p>`;
