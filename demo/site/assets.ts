export const SITE_CSS = `
*{box-sizing:border-box}body{margin:0;background:#e9e6df;color:#2b2622;font:18px/1.65 Georgia,'Times New Roman',serif}
header{display:flex;justify-content:space-between;align-items:end;gap:24px;padding:18px 5vw;background:#3b3029;color:#efe9dd;flex-wrap:wrap}
header a{color:inherit;text-decoration:none}.mark{font-size:26px;letter-spacing:.02em}.mark span{display:block;font-size:13px;color:#c9b458}
nav{display:flex;gap:20px;font-size:16px;flex-wrap:wrap}nav a[aria-current]{border-bottom:2px solid #c9b458}nav a:hover{color:#c9b458}
.scene{display:block;width:100%;height:auto;max-height:300px}
main{max-width:760px;margin:0 auto;padding:32px 20px 96px}h1{font-size:44px;line-height:1.15;margin:.2em 0}.lead{font-size:22px;color:#4c5856}
main p{margin:0 0 1.6em}.act{display:inline-block;border:0;background:#c9b458;color:#241d12;padding:12px 22px;font:inherit;text-decoration:none;cursor:pointer}
.act:hover{background:#b7a24a}.tiles{list-style:none;padding:0;display:grid;grid-template-columns:1fr 1fr;gap:20px}.tiles a{display:block;background:#f6f3ec;color:inherit;text-decoration:none;padding-bottom:14px}
.tiles strong,.tiles span{display:block;padding:6px 14px 0}.tiles span{font-size:15px;color:#4c5856}.tiles .scene{max-height:120px}
.signup{background:#465351;color:#f3f1ea;padding:24px;margin-top:32px}.signup h2{margin-top:0}
.book{display:grid;gap:16px;max-width:420px}.book label{display:grid;gap:4px}.book .tick{display:flex;gap:10px;align-items:center}.book input:not([type=checkbox]),.book select{font:inherit;padding:8px}
.steps{display:flex;gap:8px;padding:0;list-style:none;font-size:15px;flex-wrap:wrap}.steps li{padding:2px 10px;background:#d8d3c7}.steps [aria-current]{background:#3b3029;color:#efe9dd}
.film{display:grid;place-items:center;background:#2b2622;color:#efe9dd;height:240px;margin:0 0 1.6em;border:0;width:100%;font:inherit;cursor:pointer}
.film[aria-pressed=true]{background:#465351}
footer{background:#2b2622;color:#c9c3b6;padding:24px 5vw;font-size:15px}footer a{color:#c9b458}
@media(max-width:600px){.tiles{grid-template-columns:1fr}h1{font-size:34px}}
`;

/**
 * The site's own script: a basket in the browser, a made-up member, and what it reports. `wire` runs for every page, also
 * for those that the single-page build under /app/ puts in without a page load.
 */
export const SITE_JS = `
const did = (name, props) => window.crindle && window.crindle.did && window.crindle.did(name, props);
const basket = () => JSON.parse(sessionStorage.getItem('basket') || '{}');
const keep = (part) => sessionStorage.setItem('basket', JSON.stringify({ ...basket(), ...part }));
const on = (selector, type, run) => document.querySelectorAll(selector).forEach((one) => one.addEventListener(type, (event) => run(one, event)));
const member = () => JSON.parse(localStorage.getItem('tarnhollow-member') || 'null');
function introduce() {
  const who = member();
  if (who && window.crindle && window.crindle.person) window.crindle.person({ id: who.id, email: who.email, traits: { first_name: who.first_name, plan: who.plan, nights: who.nights, joined: who.joined } });
}
function wire() {
  on('#night', 'change', (input) => { keep({ night: input.value }); did('dates_chosen', { night: input.value }); });
  on('#guests', 'change', (input) => { keep({ guests: Number(input.value) }); did('guests_chosen', { guests: Number(input.value) }); });
  on('form.book', 'submit', (form) => { for (const field of form.elements) if (field.name) keep({ [field.name]: field.type === 'checkbox' ? field.checked : field.value }); });
  on('[data-kit]', 'click', (button) => { keep({ kit: button.dataset.kit }); button.textContent = 'In your basket'; did('kit_added', { kit: button.dataset.kit }); });
  on('[data-quote]', 'click', () => did('quote_opened', { nights: 1 }));
  on('[data-course]', 'click', (button) => { button.textContent = 'You are on the list'; did('course_enrolled', { course: button.dataset.course }); });
  on('[data-join]', 'click', (button) => { button.textContent = 'Welcome to the cooperative'; did('member_joined', { plan: button.dataset.join }); });
  on('.film', 'click', (button) => { button.setAttribute('aria-pressed', 'true'); button.textContent = 'Playing: the lantern is lit'; did('video_played', { film: button.dataset.film }); });
  on('form.account', 'submit', (form, event) => {
    event.preventDefault();
    localStorage.setItem('tarnhollow-member', JSON.stringify({ id: 'm-204', email: form.email.value, first_name: 'Runa', plan: 'family', nights: 11, joined: '2023-04-02' }));
    introduce();
    form.replaceWith('Signed in as Runa. Eleven nights, one vote.');
  });
  if (location.pathname.endsWith('/book/done') && sessionStorage.getItem('basket')) {
    const { guests = 2, hut = 'Skarn Shelter' } = basket();
    sessionStorage.removeItem('basket');
    setTimeout(() => did('booking', { value: Number(guests) * 34, hut, nights: 1 }), 200);
  }
}
async function go(path, push) {
  const html = await (await fetch(path)).text();
  const next = new DOMParser().parseFromString(html, 'text/html');
  if (push) history.pushState({}, '', path);
  document.title = next.title;
  document.body.dataset.crindleLabel = next.body.dataset.crindleLabel;
  document.querySelector('#page').replaceWith(next.querySelector('#page'));
  document.querySelector('nav').replaceWith(next.querySelector('nav'));
  scrollTo(0, 0);
  wire();
}
if (location.pathname.startsWith('/app')) {
  document.addEventListener('click', (event) => {
    const link = event.target.closest('a[href^="/app"]');
    if (!link || event.defaultPrevented || event.metaKey || event.ctrlKey) return;
    event.preventDefault();
    go(link.getAttribute('href'), true);
  });
  document.addEventListener('submit', (event) => {
    if (!event.target.matches('form.book')) return;
    event.preventDefault();
    go(event.target.getAttribute('action'), true);
  });
  addEventListener('popstate', () => go(location.pathname, false));
}
wire();
addEventListener('load', () => setTimeout(introduce, 100));
`;
