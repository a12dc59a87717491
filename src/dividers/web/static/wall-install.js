/* Keeping the page as an app, where the browser offers it: only over https, or on the machine itself. */
"use strict";
(() => {
  const button = document.getElementById("install");
  let offer = null;
  window.addEventListener("beforeinstallprompt", (event) => {
    event.preventDefault();
    offer = event;
    button.hidden = false;
  });
  window.addEventListener("appinstalled", () => { button.hidden = true; });
  button?.addEventListener("click", async () => {
    await offer?.prompt();
    button.hidden = true;
  });
})();
