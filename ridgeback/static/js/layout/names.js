/* What items are called: by the catalogue, with their power, numbered where two are alike. */

export function label(item, catalogue) {
  for (const group of catalogue) {
    const offered = group.items.find((entry) => entry.item.kind === item.kind);
    if (!offered) continue;
    return item.power_w && !item.size_m ? `${offered.label}, ${item.power_w} W` : offered.label;
  }
  return item.kind;
}

export function numbered(labels) {
  return labels.map((text, at) => {
    const same = labels.filter((other) => other === text).length;
    const before = labels.slice(0, at + 1).filter((other) => other === text).length;
    return same > 1 ? `${text} ${before}` : text;
  });
}

/* The first name of a stem that no item has. */
export function freeId(stem, items) {
  for (let n = 1; ; n += 1) {
    if (!items.some((item) => item.id === `${stem}-${n}`)) return `${stem}-${n}`;
  }
}
