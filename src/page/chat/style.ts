export const chatStyle = `
:host{all:initial!important;display:contents!important}
.chat{--accent:#2d4a43;box-sizing:border-box;position:fixed;z-index:2147483647;inset:auto;inset-block-end:calc(16px + var(--lift,0px));inset-inline-end:16px;width:min(360px,calc(100vw - 32px));
margin:0;padding:0;border:0;background:none;color:#1c2321;font:16px/1.45 system-ui,sans-serif;text-align:start;overflow:visible;overflow-wrap:anywhere}
.bubble{box-sizing:border-box;display:flex;gap:12px;align-items:center;width:100%;min-height:60px;padding:12px;padding-inline-end:48px;border:1px solid #c9d0cc;border-radius:10px;background:#fff;color:inherit;
font:inherit;text-align:start;cursor:pointer;box-shadow:0 6px 28px rgb(0 0 0/.24)}
.words{display:grid}
.face{flex:none;display:grid;place-items:center;width:40px;height:40px;border-radius:6px;background:var(--accent);color:var(--on,#fff);font-weight:700;object-fit:cover}
.close{position:absolute;inset-block-start:8px;inset-inline-end:8px;width:36px;height:36px;padding:0;border:0;border-radius:4px;background:none;color:inherit;font:24px/1 system-ui,sans-serif;cursor:pointer}
@media(max-height:320px){.chat:has(>.bubble){width:auto}.bubble{min-height:0;padding:8px;padding-inline-end:48px}.words{position:absolute;clip-path:inset(50%);pointer-events:none}}
.close:hover{background:rgb(0 0 0/.07)}
.thread{display:flex;flex-direction:column;max-height:min(560px,calc(100dvh - 32px));border:1px solid #c9d0cc;border-radius:10px;background:#fff;box-shadow:0 8px 36px rgb(0 0 0/.28);overflow:hidden;outline:0}
.head{display:flex;gap:12px;align-items:center;padding:12px;padding-inline-end:52px;border-bottom:1px solid #dfe4e1}
.who{display:grid;line-height:1.25}.who span{color:#4c5753;font-size:14px}
.log{flex:1;overflow:auto;min-height:120px;padding:14px;display:flex;flex-direction:column;gap:8px}
.log p{margin:0;max-width:85%;padding:8px 12px;border-radius:8px;white-space:pre-line}
.us{align-self:flex-start;background:#eef1ef}.them{align-self:flex-end;background:var(--own,#1c2321);color:var(--on,#fff)}
.answers{display:flex;flex-wrap:wrap;gap:8px;padding:12px;border-top:1px solid #dfe4e1}
.answers:empty{display:none}
.answers button{min-height:44px;padding:8px 14px;border:1px solid #6c7773;border-radius:6px;background:#fff;color:inherit;font:inherit;cursor:pointer}
form{display:flex;flex-wrap:wrap;gap:8px;width:100%}
input,textarea{box-sizing:border-box;flex:1;min-width:0;min-height:44px;padding:9px 12px;border:1px solid #6c7773;border-radius:6px;background:#fff;color:inherit;font:inherit}
textarea{resize:none;field-sizing:content;max-height:150px}form button{min-width:44px}[aria-pressed=false]{opacity:.5;text-decoration:line-through}[data-unsent]{opacity:.6}.us b{display:block;font-size:14px}.who a{color:inherit}.log img{display:block;max-width:100%;height:auto;max-height:240px;object-fit:contain;border-radius:4px}
.pick{box-sizing:border-box;position:relative;display:grid;place-items:center;min-width:44px;min-height:44px;border:1px solid #6c7773;border-radius:6px}.pick input{position:absolute;inset:0;min-width:0;padding:0;opacity:0;cursor:pointer}.pick:focus-within{outline:3px solid var(--accent);outline-offset:2px}
.status{flex-basis:100%;margin:0;color:#4c5753;font-size:14px}.status:empty{display:none}.email{padding:12px 12px 0}
.error{flex-basis:100%;margin:0;color:#a8322d;font-size:14px}.error:empty{display:none}
:focus-visible{outline:3px solid var(--accent);outline-offset:2px}
`;
