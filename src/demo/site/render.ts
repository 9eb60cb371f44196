import type { DemoPage } from './pages';
import { PAGES } from './pages';
import { drawScene } from './scene';

export interface Snippet {
  readonly collector: string;
  readonly siteKey: string;
}

/** A whole page of the demo site with the snippet in its head. */
export function renderPage(page: DemoPage, { collector, siteKey }: Snippet): string {
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">
<title>${page.title} · Tarnhollow Huts</title>${page.kind === 'article' ? '<meta property="og:type" content="article"><meta property="article:section" content="winter">' : ''}
<link rel="stylesheet" href="/site.css"><link rel="icon" href="data:,">
<script async src="${collector}/page.js" data-site="${siteKey}"></script></head>
<body data-crindle-label="${page.kind}">
<header><a class="mark" href="/">Tarnhollow<span>huts since 1921</span></a>
<nav aria-label="Main">${['/huts', '/routes', '/journal', '/membership', '/offers', '/book'].map((path) => `<a href="${path}"${page.path.startsWith(path) ? ' aria-current="page"' : ''}>${PAGES.find((one) => one.path === path)?.title}</a>`).join('')}</nav></header>
${drawScene(page.path)}
<main><h1>${page.title}</h1><p class="lead">${page.lead}</p>
${page.paragraphs.map((text) => `<p>${text}</p>`).join('\n')}
${bodyOf(page)}</main>
<footer><p>Tarnhollow Huts is a made-up cooperative. <a href="/contact">Contact</a></p></footer>
<script src="/site.js" defer></script></body></html>`;
}

function bodyOf(page: DemoPage): string {
  switch (page.kind) {
    case 'huts':
      return list('hut');
    case 'routes':
      return list('route');
    case 'journal':
      return list('article');
    case 'home':
      return list('hut');
    case 'hut':
      return '<p><a class="act" id="book-now" href="/book">Book a bunk here</a></p>' + elevation(page.path);
    case 'route':
      return elevation(page.path) + '<p><a class="act" href="/huts">See the huts on the way</a></p>';
    case 'membership':
      return '<section class="signup"><h2>Become a member</h2><p>Write to us with your name and your favourite hut.</p><a class="act" href="/contact">Write to us</a></section>';
    case 'book':
      return `<form class="book" action="/book/done"><label>Hut<select name="hut">${PAGES.filter((one) => one.kind === 'hut')
        .map((one) => `<option>${one.title}</option>`)
        .join('')}</select></label>
<label>First night<input type="date" name="night" id="night"></label><label>Guests<input type="number" name="guests" id="guests" min="1" max="8" value="2"></label><button class="act">Book the bunks</button></form>`;
    case 'offers':
      return '<div class="slot" data-slot="offer"></div>';
    default:
      return '';
  }
}

const list = (kind: DemoPage['kind']): string =>
  `<ul class="tiles">${PAGES.filter((page) => page.kind === kind)
    .map((page) => `<li><a href="${page.path}">${drawScene(page.path)}<strong>${page.title}</strong><span>${page.lead}</span></a></li>`)
    .join('')}</ul>`;

const elevation = (seed: string): string =>
  `<h2>The way up</h2>${drawScene(`${seed}/way`)}<p>Ascent, water and shelter are marked on the posts.</p>`;
