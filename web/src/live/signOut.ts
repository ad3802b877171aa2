/** Signing out: the server is told, and nothing of whoever was here stays in this browser but what still waits to be sent. */
import { ask, client } from "../api/client";
import { queryClient } from "../api/hooks";
import { COACH, dropAtHand } from "./atHand";
import { closeOutbox } from "./outbox";

/** Sign out here, or on every device, and go to the door. */
export async function signOut(everywhere: boolean) {
  await ask(client.POST("/api/sign-out", { params: { query: { everywhere } } })).catch(() => undefined);
  closeOutbox();
  localStorage.removeItem(COACH);
  await dropAtHand();
  queryClient.clear();
  window.location.assign("/");
}
