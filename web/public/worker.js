/*
 * The service worker: Angular's, which keeps the pages for when there is no network. What is asked of the API never goes through it: it is neither kept nor
 * answered from anything but the server, and its streams stay the browser's own.
 */
self.addEventListener('fetch', (event) => {
  if (/^\/+api(\/|$)/i.test(new URL(event.request.url).pathname)) event.stopImmediatePropagation();
});
importScripts('./ngsw-worker.js');
