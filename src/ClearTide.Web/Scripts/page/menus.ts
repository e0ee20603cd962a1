// Menus that open in place close when one clicks elsewhere or presses Escape.
const menus = ':is(details.tool-menu, details.question, details.panel-menu)';

function close(except: Element | null): void {
  for (const menu of document.querySelectorAll<HTMLDetailsElement>(menus)) if (menu !== except) menu.open = false;
}

addEventListener('pointerdown', event => close((event.target as Element).closest(menus)), { capture: true });

addEventListener('keydown', event => {
  const open = event.key === 'Escape' ? document.querySelector<HTMLDetailsElement>(`${menus}[open]`) : null;
  if (!open) return;
  event.preventDefault();
  open.open = false;
  open.querySelector('summary')?.focus();
});

export {};
