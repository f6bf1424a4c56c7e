/** Help: words, phrases, keys. Asks nothing of the server. */
import { HelpPage } from "@/ui/help/help-page";

export default function Page() {
  return <HelpPage />;
}
