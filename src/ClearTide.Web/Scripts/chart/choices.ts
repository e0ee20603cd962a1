// Buttons of which one is chosen.
export const choiceButtons = <T>(items: T[], name: (item: T) => string, chosen: T, pick: (item: T) => void): HTMLElement[] =>
  items.map(item => {
    const button = document.createElement('button');
    button.type = 'button';
    button.className = 'plain';
    button.textContent = name(item);
    button.setAttribute('aria-pressed', String(item === chosen));
    button.addEventListener('click', () => pick(item));
    return button;
  });
