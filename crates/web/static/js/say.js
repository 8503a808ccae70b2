// What is said to those who hear the page.

/** A sentence for those who hear the page; said when nothing has changed for a moment. */
let sayTimer = 0;
export const say = (sentence) => {
  clearTimeout(sayTimer);
  sayTimer = setTimeout(() => {
    const place = document.querySelector('[data-says]');
    if (place && sentence) place.textContent = sentence;
  }, 700);
};
