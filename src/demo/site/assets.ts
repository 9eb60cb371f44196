export const SITE_CSS = `
*{box-sizing:border-box}body{margin:0;background:#e9e6df;color:#2b2622;font:18px/1.65 Georgia,'Times New Roman',serif}
header{display:flex;justify-content:space-between;align-items:end;gap:24px;padding:18px 5vw;background:#3b3029;color:#efe9dd;flex-wrap:wrap}
header a{color:inherit;text-decoration:none}.mark{font-size:26px;letter-spacing:.02em}.mark span{display:block;font-size:13px;color:#c9b458}
nav{display:flex;gap:20px;font-size:16px;flex-wrap:wrap}nav a[aria-current]{border-bottom:2px solid #c9b458}nav a:hover{color:#c9b458}
.scene{display:block;width:100%;height:auto;max-height:300px}
main{max-width:760px;margin:0 auto;padding:32px 20px 96px}h1{font-size:44px;line-height:1.15;margin:.2em 0}.lead{font-size:22px;color:#53605e}
main p{margin:0 0 1.6em}.act{display:inline-block;border:0;background:#c9b458;color:#241d12;padding:12px 22px;font:inherit;text-decoration:none;cursor:pointer}
.act:hover{background:#b7a24a}.tiles{list-style:none;padding:0;display:grid;grid-template-columns:1fr 1fr;gap:20px}.tiles a{display:block;background:#f6f3ec;color:inherit;text-decoration:none;padding-bottom:14px}
.tiles strong,.tiles span{display:block;padding:6px 14px 0}.tiles span{font-size:15px;color:#53605e}.tiles .scene{max-height:120px}
.signup{background:#53605e;color:#f3f1ea;padding:24px;margin-top:32px}.signup h2{margin-top:0}
.book{display:grid;gap:16px;max-width:420px}.book label{display:grid;gap:4px}.book input,.book select{font:inherit;padding:8px}
footer{background:#2b2622;color:#c9c3b6;padding:24px 5vw;font-size:15px}footer a{color:#c9b458}
@media(max-width:600px){.tiles{grid-template-columns:1fr}h1{font-size:34px}}
`;

/** The site's own script: it tells Crindle what happens in the booking. */
export const SITE_JS = `
const did = (name, props) => window.crindle && window.crindle.did && window.crindle.did(name, props);
const night = document.querySelector('#night');
night && night.addEventListener('change', () => did('dates_chosen', { night: night.value }));
const guests = document.querySelector('#guests');
guests && guests.addEventListener('change', () => did('guests_chosen', { guests: Number(guests.value) }));
const form = document.querySelector('form.book');
form && form.addEventListener('submit', () => {
  const value = Number(guests.value) * 34;
  sessionStorage.setItem('booking', JSON.stringify({ value, hut: form.hut.value, nights: 1 }));
});
const booked = location.pathname === '/book/done' && sessionStorage.getItem('booking');
if (booked) {
  sessionStorage.removeItem('booking');
  addEventListener('load', () => setTimeout(() => did('booking', JSON.parse(booked)), 200));
}
`;
