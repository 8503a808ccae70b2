// The printed sheet.

const printer = () => ({
  print() {
    window.print();
  },
});

document.addEventListener('alpine:init', () => window.Alpine.data('printer', printer));
