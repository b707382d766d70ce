/** What takes typed text: there plain keys type, and Ctrl+Z undoes the typing. */
const TEXT_FIELD =
  'input:not([type="radio"], [type="checkbox"], [type="range"]), textarea, [contenteditable], [role="combobox"]'

/** Whether an event comes from where text is typed. */
export const isFromTextField = ({ target }: Event): boolean =>
  target instanceof HTMLElement && target.closest(TEXT_FIELD) !== null
