// Runs before the first paint, so that a dark screen never flashes light.
(function () {
  try {
    var theme = localStorage.getItem("grapnel.theme");
    if (theme === "light" || theme === "dark") document.documentElement.dataset.theme = theme;
  } catch {
    // No storage: the system's own theme stands.
  }
})();
