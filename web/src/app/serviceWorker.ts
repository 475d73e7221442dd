/** The app opens without the server where people sign in; a single machine needs none of it. */
export async function keepApp(isWorkshop: boolean): Promise<void> {
  if (!("serviceWorker" in navigator) || import.meta.env.DEV) return;
  try {
    if (isWorkshop) await navigator.serviceWorker.register("/sw.js");
    else for (const one of await navigator.serviceWorker.getRegistrations()) await one.unregister();
  } catch {
    // A browser that refuses (no secure address, private window) asks the server each time.
  }
}

/** What the system shows also while another app is in front; true where it may. */
export async function notify(title: string, tag: string): Promise<boolean> {
  if (!("Notification" in window) || Notification.permission !== "granted") return false;
  const options = { tag, icon: "/icon-192.png" };
  try {
    const worker = await navigator.serviceWorker?.getRegistration();
    if (worker) await worker.showNotification(title, options);
    else new Notification(title, options);
    return true;
  } catch {
    return false;
  }
}
