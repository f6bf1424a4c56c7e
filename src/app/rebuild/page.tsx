/** Bringing the tally back when the database is lost. */
import { RebuildPage } from "@/ui/rebuild/rebuild-page";

export default function Page() {
  return <RebuildPage />;
}
