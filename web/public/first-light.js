// Before anything is drawn: in a dark room no page begins white.
(() => {
  let kept = null;
  try {
    kept = JSON.parse(localStorage.getItem("ratiomet.theme") ?? "null");
  } catch {
    // A browser that keeps nothing follows the system.
  }
  const night = kept === "dark" || (kept !== "light" && matchMedia("(prefers-color-scheme: dark)").matches);
  document.documentElement.dataset.bsTheme = night ? "dark" : "light";
  document.documentElement.style.colorScheme = night ? "dark" : "light";
})();
