/** Of every message. Texts keep 4.5:1 on white, marks 3:1. What has a colour of its own gets it as `--accent`. */
export const styleText = `
:host{all:initial!important;display:contents!important}
@media print{:host{display:none!important}}
.box,.tab{--accent:#2d4a43;--on-accent:#fff;--corners:6px}
.box{box-sizing:border-box;padding:26px;border:1px solid transparent;background:#fff;color:#1c2321;
font:16px/1.5 system-ui,sans-serif;text-align:start;outline:0;overflow-wrap:anywhere;container-type:inline-size}
.popup{position:fixed;z-index:2147483647;inset:0;width:min(var(--width),calc(100vw - 32px));height:fit-content;max-width:none;max-height:calc(100dvh - 32px);
overflow:auto;margin:auto;border-radius:var(--corners);box-shadow:0 12px 48px rgb(0 0 0/.3)}
.at-top{margin-block:16px auto}.at-bottom{margin-block:auto 16px}.at-start{margin-inline:16px auto}.at-end{margin-inline:auto 16px}
dialog::backdrop{background:rgb(12 18 16/.55)}
.banner{display:flex;flex-wrap:wrap;gap:8px 24px;align-items:center;justify-content:center;width:100%;padding:12px 56px;max-width:none;margin:0}
.box.banner>*{margin:0}
.banner.over{position:fixed;z-index:2147483647;inset:auto 0;max-height:60dvh;overflow:auto;box-shadow:0 0 24px rgb(0 0 0/.22)}
.banner.over.top{top:0}.banner.over.bottom{bottom:0}
.popup{animation:.25s ease-out}.still{animation:none}.in-fade{animation-name:fade}.in-rise{animation-name:rise}.in-drop{animation-name:drop}
.in-glide{animation-name:glide}.in-grow{animation-name:grow}.in-unfold{animation-name:unfold}
@keyframes fade{from{opacity:0}}
@keyframes rise{from{opacity:0;translate:0 14px}}
@keyframes drop{from{opacity:0;translate:0 -14px}}
@keyframes glide{from{opacity:0;translate:28px}}
@keyframes grow{from{opacity:0;scale:.92}}
@keyframes unfold{from{clip-path:inset(0 0 100% 0)}to{clip-path:inset(0)}}
@media (prefers-reduced-motion:reduce){.box{animation:none!important}}
h2{margin:0 0 10px;font-size:23px;line-height:1.25}
.banner h2{font-size:18px}
p{margin:0 0 16px;white-space:pre-line}
img{display:block;max-width:100%;height:auto;margin:0 0 14px;border-radius:4px}
label,legend{display:block;margin:0 0 6px;padding:0;font-weight:600}
fieldset{all:unset;display:block}
form>*{margin-bottom:12px}
input:not([type=checkbox]),select{box-sizing:border-box;width:100%;min-height:44px;padding:9px 12px;border:1px solid #6c7773;border-radius:4px;background:#fff;color:inherit;font:inherit}
.tick{display:flex;gap:10px;align-items:flex-start;min-height:28px;font-weight:400}
.tick input{flex:none;width:22px;height:22px;margin:1px 0 0;accent-color:var(--accent)}
[aria-invalid]{border-color:#a8322d!important;outline:1px solid #a8322d}
.error{margin:6px 0 0;color:#a8322d;font-size:14px}
.error:empty{display:none}
.trap{position:absolute!important;width:1px!important;min-height:0!important;height:1px;opacity:0;pointer-events:none;inset-inline-start:0}
.buttons{display:flex;flex-wrap:wrap;gap:10px;margin:12px 0 0}
.buttons .button{flex:1 1 150px}
.button{box-sizing:border-box;display:block;width:100%;min-height:44px;padding:10px 16px;border:1px solid transparent;border-radius:4px;
background:var(--accent);color:var(--on-accent);font:inherit;font-weight:600;line-height:1.4;text-align:center;text-decoration:none;cursor:pointer}
.banner .button{width:auto}
.button.quiet{background:none;color:inherit;border-color:#6c7773}
.group{margin:0 0 12px}.group>.button{margin-top:8px}
.question{margin:0 0 8px;font-weight:600}
.columns{display:grid;grid-template-columns:minmax(0,1fr);gap:0 20px}
@container (min-width:360px){.columns{grid-template-columns:repeat(2,minmax(0,1fr))}}
.close{position:absolute;inset-block-start:8px;inset-inline-end:8px;width:40px;height:40px;padding:0;border:0;border-radius:4px;background:#fffc;color:inherit;
font:26px/1 system-ui,sans-serif;cursor:pointer}
.close:hover{background:#e4e7e6}
.close+:is(h2,p),.close+.group .question{margin-inline-end:36px}
:focus-visible{outline:3px solid var(--accent);outline-offset:2px}
.box:focus-visible{outline:0}
.thanks{margin:0;font-weight:600;outline:0}
`;
