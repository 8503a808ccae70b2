// The loaf cut open, at any minute of its bake.

/** A colour between stops of [temperature, [r, g, b]]. */
const between = (stops, t) => {
  let i = 1;
  while (i < stops.length - 1 && t > stops[i][0]) i += 1;
  const [[t0, a], [t1, b]] = [stops[i - 1], stops[i]];
  const k = Math.min(1, Math.max(0, (t - t0) / (t1 - t0)));
  return `rgb(${a.map((x, n) => Math.round(x + k * (b[n] - x))).join(',')})`;
};

/** Colours a cut loaf for one of its moments. */
export const colourCut = (figure, at) => {
  const { stops, moments } = JSON.parse(figure.dataset.cut);
  const { t, crust, says } = moments[at];
  for (const part of figure.querySelectorAll('[data-at]')) {
    const [face, band] = part.dataset.at.split(':').map(Number);
    part.setAttribute('fill', between(stops, (t[face][band] + t[face][band + 1]) / 2));
  }
  for (const rim of figure.querySelectorAll('[data-crust]')) rim.setAttribute('stroke', crust);
  figure.querySelector('[data-cut-says]').textContent = says;
};

/** The slider only works with scripts, so they bring it out, where it was left. */
export const showSlider = (out, slid) => {
  const slider = out.querySelector('[data-cut-at]');
  if (!slider) return;
  slider.closest('.slide').hidden = false;
  if (slid === undefined || Number(slid) >= Number(slider.max)) return;
  slider.value = slid;
  colourCut(slider.closest('[data-cut]'), Number(slid));
};
