/** Plain on purpose: it belongs to no brand, and can be read on any page. */
export const STYLE = `
:host { all: initial; }
* { box-sizing: border-box; font: inherit; color: inherit; }
.panel {
  position: fixed; z-index: 2147483647; right: 16px; bottom: 16px; width: min(360px, calc(100% - 32px));
  max-height: calc(100% - 32px); overflow-y: auto; padding: 20px; background: #fff; color: #1c1f21;
  border: 1px solid #8b9196; border-radius: 6px; box-shadow: 0 8px 28px rgb(0 0 0 / .22);
  font: 16px/1.45 system-ui, sans-serif; text-align: left;
}
:host([narrow]) .panel { right: 0; bottom: 0; width: 100%; border-radius: 6px 6px 0 0; border-width: 1px 0 0; }
h2 { margin: 0 28px 12px 0; font-weight: 600; outline: none; overflow-wrap: anywhere; }
.close {
  position: absolute; top: 10px; right: 10px; width: 36px; height: 36px; border: 0; border-radius: 4px;
  background: none; font-size: 24px; line-height: 1; cursor: pointer;
}
.close:hover { background: #eceef0; }
.choice { display: flex; gap: 10px; align-items: flex-start; padding: 7px 0; cursor: pointer; overflow-wrap: anywhere; }
.choice input { flex: none; width: 18px; height: 18px; margin: 2px 0 0; accent-color: #1c1f21; }
textarea { display: block; width: 100%; padding: 8px 10px; border: 1px solid #6d7378; border-radius: 4px; background: #fff; resize: vertical; }
.row { display: flex; gap: 4px; }
.step { flex: 1; position: relative; cursor: pointer; }
.step input { position: absolute; inset: 0; opacity: 0; margin: 0; cursor: pointer; }
.step span { display: block; padding: 9px 0; border: 1px solid #6d7378; border-radius: 4px; text-align: center; }
.step input:checked + span { background: #1c1f21; color: #fff; border-color: #1c1f21; }
.step:hover span { border-color: #1c1f21; }
.ends { display: flex; justify-content: space-between; gap: 16px; margin-top: 4px; font-size: 14px; color: #4b5157; }
.go { margin-top: 16px; min-height: 44px; padding: 8px 20px; border: 1px solid #1c1f21; border-radius: 4px; background: #1c1f21; color: #fff; cursor: pointer; }
.go:disabled { background: #fff; color: #5c6268; border-color: #8b9196; cursor: not-allowed; }
:focus-visible, .step input:focus-visible + span { outline: 3px solid #1a5fb4; outline-offset: 2px; }
`
