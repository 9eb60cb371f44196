/** Sheets of its own in a shadow tree: nothing of the page's reaches in, and no policy of the page's forbids it. */
export const DOCK_STYLE = `
:host{all:initial;color-scheme:light}
*{box-sizing:border-box;margin:0}
.dock{--paper:#fff;--bone:#f6f7f4;--ink:#17211e;--soft:#55605c;--line:#d9ded8;--edge:#87918c;--pine:#0b5d4e;--people:#7a3b8f;--pages:#1b66a6;--moment:#b25a06;--pacing:#586a24;--danger:#a8322d;
position:fixed;inset:auto 0 0;z-index:2147483646;margin:0;padding:0;border:0;width:100%;max-width:none;color:var(--ink);background:var(--paper);font:13.5px/1.45 "Hanken Grotesk Variable",system-ui,sans-serif;font-variant-numeric:tabular-nums;
border-top:2px solid var(--ink);box-shadow:0 0 30px rgb(0 0 0/.2);text-align:start}
.dock.top{inset:0 0 auto;border-top:0;border-bottom:2px solid var(--ink)}
button,input,select{font:inherit;color:inherit}
button{cursor:pointer;background:none;border:0;padding:0;text-align:start}
:focus-visible{outline:2px solid var(--pine);outline-offset:2px}
.head{display:flex;align-items:center;gap:16px;min-height:60px;padding:4px 18px;border-bottom:1px solid var(--line)}
.small .head{min-height:44px;border:0}
.what{flex:0 0 auto;white-space:nowrap}
.soft{color:var(--soft)}
.visit{flex:1 1 auto;min-width:0;overflow:hidden}
.acts{display:flex;gap:8px;flex:0 0 auto;flex-wrap:wrap;justify-content:flex-end}
.act{border:1px solid var(--line);border-radius:4px;padding:4px 10px;font-weight:600;background:var(--paper);min-height:30px}
.act:hover{border-color:var(--soft)}
.act.on{border-color:var(--pine);color:var(--pine)}
.columns{display:grid;grid-template-columns:minmax(190px,280px) minmax(0,1fr) minmax(240px,360px);height:min(236px,38vh)}
.hand{display:flex;flex-wrap:wrap;gap:4px 14px;align-items:center;padding:5px 18px;border-bottom:1px solid var(--line);position:relative}
.hand .act{min-height:28px;padding:2px 9px}
.hand .field{width:52px;min-height:26px;padding:1px 5px}
.hand .editor{position:absolute;inset-inline-end:18px;bottom:100%;margin:0;width:280px;max-height:240px;overflow:auto;z-index:1;box-shadow:0 0 20px rgb(0 0 0/.2)}
.dock.top .hand .editor{bottom:auto;top:100%}
.hand .editor .field{width:100%}
.pair{display:inline-flex;gap:5px;align-items:center}
.more{color:var(--soft);text-decoration:underline;text-underline-offset:3px;font-size:13px}
.column{padding:10px 16px;border-inline-end:1px solid var(--line);overflow:auto;min-width:0}
.column:last-child{border:0}
h2{font:650 12px/1.4 inherit;font-size:12px;margin:0 0 6px}
ul{list-style:none;padding:0}
.campaign{display:flex;gap:8px;width:100%;padding:4px 8px;border-radius:3px;align-items:baseline;justify-content:space-between}
.campaign:hover{background:var(--bone)}
.campaign[aria-pressed=true]{background:#eaeee9}
.campaign b{font-weight:600;overflow-wrap:anywhere}
.campaign small{font-size:12px;color:var(--soft);flex:0 0 auto;max-width:130px;text-align:end}
.campaign small.shows{color:var(--pine);font-weight:650}
.out b{color:var(--soft);font-weight:500}
.say{font:500 17px/1.75 "Familjen Grotesk Variable","Hanken Grotesk Variable",system-ui,sans-serif}
.say span[class]{font-weight:600}
.people{color:var(--people);border-bottom:2px solid var(--people)}
.pages{color:var(--pages);border-bottom:2px dotted var(--pages)}
.moment{color:var(--moment);border-bottom:2px dashed var(--moment)}
.pacing{color:var(--pacing);border-bottom:4px double var(--pacing)}
.no{background:#f8e4e1}
.maybe{background:#f4efd9}
.reasons{margin-top:8px;display:grid;grid-template-columns:18px minmax(0,2fr) minmax(0,3fr);gap:3px 8px;font-size:13px}
.reasons b{font-weight:600}
.reasons .group{grid-column:2/-1;color:var(--soft)}
.true{color:#1e6b45;font-weight:700}
.false{color:var(--danger);font-weight:700}
.unknown{color:#7a6110;font-weight:700}
.phrase{font-weight:600;border-bottom:1.5px solid var(--edge)}
.phrase[aria-expanded=true]{background:#eaeee9}
.pretend{font-size:15px;line-height:1.75}
.editor{border:1px solid var(--edge);border-radius:4px;padding:8px;margin:8px 0;background:var(--bone)}
.field{border:1px solid var(--edge);border-radius:4px;padding:3px 7px;min-height:28px;background:var(--paper);max-width:100%}
.choice{display:block;width:100%;padding:3px 6px;border-radius:3px}
.choice:hover,.choice[aria-pressed=true]{background:#e3e8e2}
.choice small{color:var(--soft);margin-inline-start:6px}
.row{display:flex;gap:6px;align-items:center;flex-wrap:wrap;margin:0 0 6px}
.row .field{width:64px}
.row .field.wide{width:130px}
.outline{position:fixed;pointer-events:none;border:2px solid var(--pine);background:rgb(11 93 78/.14);z-index:-1}
.offers{display:grid;grid-template-columns:repeat(auto-fill,minmax(300px,1fr));gap:2px 12px;max-height:34vh;overflow:auto;margin-top:4px}
code{font:12.5px/1.5 "Spline Sans Mono Variable",ui-monospace,monospace;overflow-wrap:anywhere;font-weight:600}
.offers small{display:block;margin:0}
.alert{color:var(--danger)}
.sr{position:absolute;width:1px;height:1px;overflow:hidden;clip-path:inset(50%);white-space:nowrap}
svg{display:block}
@media (max-width:900px){.columns{grid-template-columns:1fr;height:min(330px,46vh);overflow:auto}.column{border-inline-end:0;border-bottom:1px solid var(--line);overflow:visible}.head{flex-wrap:wrap}.visit{order:3;flex-basis:100%}}
@media (forced-colors:active){.no{outline:2px solid Mark}}
`;
