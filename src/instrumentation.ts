/** Runs once when the server starts: the folder watch. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== "nodejs") return;
  const { watchFolders } = await import("@/server/folder/folder-watch");
  watchFolders();
}
