/* Goes on to the job by itself, with what came along in the address. */
"use strict";
(() => {
  const link = document.getElementById("go-on");
  link.href += location.hash;
  location.replace(link.href);
})();
