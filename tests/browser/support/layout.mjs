// What is wrong with how a page is laid out, as somebody who looks at it would say. It measures what is painted, not how it was styled.

/** @returns {Promise<string[]>} a sentence for each fault */
export const layoutFaults = page =>
  page.evaluate(() => {
    const faults = new Set();
    const name = element => {
      const text = (element.getAttribute('aria-label') ?? element.textContent ?? '').trim().replace(/\s+/g, ' ').slice(0, 40);
      const path = [];
      const said = one => (one.id ? `#${one.id}` : [one.localName, ...[...one.classList].slice(0, 2)].join('.'));
      for (let at = element; at && at !== document.body && path.length < 3; at = at.parentElement) path.unshift(said(at));
      return `${path.join(' > ')} “${text}”`;
    };
    /** What is left of a box inside another one. */
    const cut = (box, clip) => ({
      left: Math.max(box.left, clip.left),
      top: Math.max(box.top, clip.top),
      right: Math.min(box.right, clip.right),
      bottom: Math.min(box.bottom, clip.bottom),
    });
    /** The part of the window in which an element can be seen, cut by everything around it that scrolls or clips. */
    const clips = new Map();
    function clipOf(element) {
      const parent = element.parentElement;
      if (!parent) return { left: 0, top: 0, right: 1e6, bottom: 1e6 };
      if (clips.has(parent)) return clips.get(parent);
      let clip = clipOf(parent);
      const style = getComputedStyle(parent);
      const cutsOff = style.overflowX !== 'visible' || style.overflowY !== 'visible';
      if ((cutsOff && parent !== document.body && parent !== document.documentElement) || parent.localName === 'svg') {
        const box = parent.getBoundingClientRect();
        clip = cut(box, clip);
      }
      clips.set(parent, clip);
      return clip;
    }
    /** The same for what is inside it. */
    function clipFor(element) {
      const clip = clipOf(element),
        style = getComputedStyle(element);
      return style.overflowX === 'visible' || element instanceof SVGElement ? clip : cut(element.getBoundingClientRect(), clip);
    }
    /** A menu that is open lies over what is behind it, as it should; so does the ledger where it is a drawer. */
    const drawer = [...document.querySelectorAll('.ledger-side')].find(side => getComputedStyle(side).position === 'fixed');
    const popup = element =>
      element.closest('details[open] > :not(summary), [role=dialog], dialog, [role=listbox]') ??
      (drawer?.contains(element) ? drawer : null);
    const { innerWidth: width } = window;
    if (document.documentElement.scrollWidth > width) {
      const widest = [...document.body.querySelectorAll('*')].find(
        element => element.getBoundingClientRect().right > width + 1 && clipOf(element).right > width + 1,
      );
      faults.add(
        `the page is ${document.documentElement.scrollWidth - width} px wider than the window${widest ? `: ${name(widest)}` : ''}`,
      );
    }

    const visible = { opacityProperty: true, visibilityProperty: true, contentVisibilityAuto: true };
    const seen = element => element.checkVisibility(visible) && !element.closest('.sr-only, [hidden]');
    const covers = (a, b) =>
      Math.min(a.right, b.right) - Math.max(a.left, b.left) > 2 && Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > 3;

    // Lines of text, as they are painted.
    const lines = [];
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    const range = document.createRange();
    while (walker.nextNode()) {
      const { currentNode: text } = walker;
      const owner = text.parentElement;
      if (!text.data.trim() || !owner || /^(script|style|option|title|desc)$/.test(owner.localName) || !seen(owner)) continue;
      const clip = clipFor(owner);
      range.selectNodeContents(text);
      for (const rect of range.getClientRects()) {
        // The box of a line is higher than its letters.
        const slack = 0.18 * rect.height;
        const box = cut({ left: rect.left, right: rect.right, top: rect.top + slack, bottom: rect.bottom - slack }, clip);
        if (box.right - box.left > 1 && box.bottom - box.top > 2) lines.push({ text, owner, box, whole: rect });
      }
    }
    // Which of two that cross is on top, where something painted lies between them, decides whether both are seen.
    const isSeen = ({ owner, box }) => {
      const [x, y] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
      if (x < 0 || y < 0 || x >= window.innerWidth || y >= window.innerHeight) return true;
      const top = document.elementFromPoint(x, y);
      if (!top || top === owner || owner.contains(top) || top.contains(owner)) return true;
      // Something else is hit: it hides the text only if it is painted.
      for (let at = top; at && !at.contains(owner); at = at.parentElement) if (isPainted(at)) return false;
      return true;
    };
    function isPainted(element) {
      const style = getComputedStyle(element);
      return element instanceof HTMLElement && !/^rgba\(.*, 0\)$|transparent/.test(style.backgroundColor) && Number(style.opacity) > 0.5;
    }
    function ground(element) {
      for (let at = element; at; at = at.parentElement) if (isPainted(at)) return getComputedStyle(at).backgroundColor;
      return '';
    }
    const shown = lines.filter(isSeen);
    const rows = new Map();
    for (const line of shown) {
      for (let row = Math.floor(line.box.top / 40); row <= Math.floor(line.box.bottom / 40); row++) {
        for (const other of rows.get(row) ?? []) {
          if (
            other.text !== line.text &&
            popup(other.owner) === popup(line.owner) &&
            !other.owner.closest('math') &&
            !line.owner.closest('math') &&
            covers(other.box, line.box)
          ) {
            faults.add(`text lies on text: ${name(line.owner)} on ${name(other.owner)}`);
          }
        }
        rows.set(row, [...(rows.get(row) ?? []), line]);
      }
    }

    // Text that does not fit its box and cannot be scrolled to or read elsewhere.
    for (const { owner, whole } of lines) {
      for (let at = owner; at && at !== document.body; at = at.parentElement) {
        const style = getComputedStyle(at);
        if (at instanceof SVGElement) continue;
        const box = at.getBoundingClientRect();
        const hides = style.overflowX === 'hidden' || style.overflowX === 'clip';
        if (
          hides &&
          (whole.right > box.right + 1 || whole.left < box.left - 1) &&
          !owner.closest('[title]') &&
          !owner.querySelector(':scope > title')
        ) {
          faults.add(`text is cut off: ${name(owner)} in ${name(at)}`);
        }
        if (style.overflowX === 'auto' || style.overflowX === 'scroll') break;
      }
    }
    // Words in a field: what it holds, what it proposes, and the choice that stands in a list.
    const pen = document.createElement('canvas').getContext('2d');
    for (const field of document.querySelectorAll('input, select, textarea')) {
      if (!seen(field) || /^(checkbox|radio|range|hidden|file|color)$/.test(field.type)) continue;
      const style = getComputedStyle(field);
      pen.font = `${style.fontStyle} ${style.fontWeight} ${style.fontSize} ${style.fontFamily}`;
      // The arrow of a list takes its part.
      const room =
        field.clientWidth - parseFloat(style.paddingLeft) - parseFloat(style.paddingRight) - (field.localName === 'select' ? 16 : 0);
      // What is long and typed can be scrolled to.
      const held = field.value ? (field.value.length <= 12 ? field.value : '') : (field.placeholder ?? '');
      const words = field.localName === 'select' ? (field.selectedOptions[0]?.label ?? '') : held;
      const wide = Math.max(0, ...words.split('\n').map(part => pen.measureText(part).width));
      if (wide > room + 2 && field.localName !== 'textarea') {
        faults.add(`a field is ${Math.ceil(wide - room)} px too narrow for “${words.trim().slice(0, 40)}”: ${name(field)}`);
      }
    }

    // The head of a table stands above the columns it names.
    for (const table of document.querySelectorAll('table')) {
      const [head, body] = [table.tHead?.rows[table.tHead.rows.length - 1], table.tBodies[0]?.rows[0]];
      if (!head || !body || !seen(table)) continue;
      const [above, below] = [head.getBoundingClientRect(), body.getBoundingClientRect()];
      if (above.bottom > below.top + 1) faults.add(`the head of a table stands beside its body: ${name(table)}`);
      const ends = row => {
        let at = 0;
        return [...row.cells].map(cell => [(at += cell.colSpan), cell.getBoundingClientRect().right]);
      };
      const columns = new Map(ends(body));
      for (const [column, right] of ends(head))
        if (columns.has(column) && Math.abs(columns.get(column) - right) > 1.5) {
          faults.add(`a head does not stand over its column: ${name(table)}`);
        }
      // Nor may it stand at one side of a column whose words stand at the other.
      const sides = row => {
        let at = 0;
        return [...row.cells].map(cell => {
          const side = getComputedStyle(cell).textAlign,
            words = cell.innerText.trim();
          return [(at += cell.colSpan), { words, side: side === 'start' ? 'left' : side === 'end' ? 'right' : side }];
        });
      };
      const columnSides = new Map(sides(body));
      for (const [column, top] of sides(head)) {
        const under = columnSides.get(column);
        if (under && top.words && under.words && top.side !== under.side)
          faults.add(`the head “${top.words.slice(0, 30)}” stands at the other side of its column: ${name(table)}`);
      }
    }

    // Controls that cannot be pressed where they are seen, or that stand out of what holds them.
    for (const control of document.querySelectorAll('button, a[href], input, select, textarea, summary, [role=button]')) {
      if (!seen(control) || control.type === 'hidden' || control.closest('svg')) continue;
      const whole = control.getBoundingClientRect();
      if (whole.width < 2 || whole.height < 2) continue;
      const box = cut(whole, clipOf(control));
      const [x, y] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
      if (box.right - box.left >= 2 && box.bottom - box.top >= 2 && x < window.innerWidth && y < window.innerHeight) {
        const top = document.elementFromPoint(x, y);
        if (
          top &&
          popup(top) === popup(control) &&
          !control.contains(top) &&
          !top.contains(control) &&
          !top.closest('label')?.contains(control) &&
          !(control.labels && [...control.labels].some(label => label.contains(top)))
        ) {
          faults.add(`a control is under another: ${name(control)} under ${name(top)}`);
        }
      }
      if (getComputedStyle(control).position === 'absolute') continue;
      const clip = clipOf(control);
      for (let panel = control.parentElement; panel && panel !== document.body; panel = panel.parentElement) {
        const isPanel = panel.matches('section, aside, article, main, form, fieldset, nav, header, details, dialog, li, td, div');
        if (!isPanel || /^(contents|inline)$/.test(getComputedStyle(panel).display)) continue;
        const frame = panel.getBoundingClientRect(),
          right = Math.min(whole.right, clip.right),
          left = Math.max(whole.left, clip.left);
        const out = Math.max(right - frame.right, frame.left - left);
        if (frame.width > 2 && right > left && out > 1.5) {
          faults.add(`a control stands ${Math.round(out)} px outside its panel: ${name(control)} in ${name(panel)}`);
          break;
        }
        if (getComputedStyle(panel).position === 'absolute') break;
      }
    }

    // Words keep clear of the fields beside them.
    const fields = [...document.querySelectorAll('input, select, textarea')]
      .filter(field => seen(field) && !/^(checkbox|radio|range|hidden)$/.test(field.type))
      .map(field => [field, cut(field.getBoundingClientRect(), clipOf(field))]);
    for (const { owner, box } of shown) {
      for (const [field, frame] of fields) {
        if (
          !field.contains(owner) &&
          ![...(field.labels ?? [])].some(label => label.contains(owner)) &&
          box.bottom > frame.top + 2 &&
          box.top < frame.bottom - 2 &&
          box.right > frame.left - 2 &&
          box.left < frame.right + 2 &&
          popup(owner) === popup(field)
        ) {
          faults.add(`text touches a field: ${name(owner)} at ${name(field)}`);
        }
      }
    }

    // Text keeps clear of the edge of what it stands on.
    for (const { owner, whole } of lines) {
      if (owner.closest('svg, math, mark, code, kbd')) continue;
      for (let at = owner; at && at !== document.body; at = at.parentElement) {
        const style = getComputedStyle(at);
        if (style.display === 'inline') continue;
        const border = side =>
          parseFloat(style[`border${side}Width`]) > 0 && !/^rgba\(.*, 0\)$|^transparent$/.test(style[`border${side}Color`]);
        const [left, right] = [border('Left'), border('Right')];
        const painted = isPainted(at) && ground(at.parentElement) !== style.backgroundColor;
        if (!left && !right && !painted) continue;
        const box = at.getBoundingClientRect();
        if (box.width > 40 && box.height > 14 && (left || painted) && whole.left - box.left < 3 && whole.left >= box.left) {
          faults.add(`text touches the edge of its panel: ${name(owner)} in ${name(at)}`);
        }
        break;
      }
    }
    return [...faults];
  });
