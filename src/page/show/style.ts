/** A constructed style sheet: no inline style, so a strict content security policy lets it pass. */
export const styleText = `
:host{all:initial!important;display:contents!important}
dialog{--accent:#2d4a43;--on-accent:#fff;box-sizing:border-box;width:min(420px,calc(100vw - 32px));max-height:calc(100vh - 32px);overflow:auto;
margin:auto;padding:28px;border:0;border-radius:6px;background:#fff;color:#1c2321;font:16px/1.5 system-ui,sans-serif;text-align:start;outline:0;
box-shadow:0 12px 48px rgb(0 0 0/.3);overflow-wrap:anywhere}
dialog[open]:not(.preview){animation:rise .22s ease-out}
dialog.preview{position:relative;inset:auto;margin:0 auto;width:min(420px,100%);max-height:none}
dialog::backdrop{background:rgb(12 18 16/.55)}
@keyframes rise{from{opacity:0;transform:translateY(10px)}}
@media (prefers-reduced-motion:reduce){dialog[open]:not(.preview){animation:none}}
h2{margin:0 36px 10px 0;font-size:23px;line-height:1.25}
[dir=rtl] h2,dialog[dir=rtl] h2{margin:0 0 10px 36px}
p{margin:0 0 16px;white-space:pre-line}
label{display:block;margin:0 0 6px;font-weight:600}
input{box-sizing:border-box;width:100%;min-height:44px;padding:9px 12px;border:1px solid #6c7773;border-radius:4px;background:#fff;color:inherit;font:inherit}
input[aria-invalid]{border-color:#a8322d}
.error{margin:6px 0 0;color:#a8322d;font-size:14px;min-height:0}
.button{box-sizing:border-box;display:block;width:100%;min-height:44px;margin:12px 0 0;padding:10px 16px;border:1px solid transparent;border-radius:4px;
background:var(--accent);color:var(--on-accent);font:inherit;font-weight:600;text-align:center;text-decoration:none;cursor:pointer}
.button.quiet{background:none;color:inherit;border-color:#6c7773}
.close{position:absolute;inset-block-start:10px;inset-inline-end:10px;width:40px;height:40px;border:0;border-radius:4px;background:none;color:inherit;
font:26px/1 system-ui,sans-serif;cursor:pointer}
.close:hover{background:rgb(0 0 0/.07)}
:focus-visible{outline:3px solid var(--accent);outline-offset:2px}
.thanks{margin:0;font-weight:600;outline:0}
`;
