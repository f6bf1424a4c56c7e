/** Who may sign in, and what they may do. */
import { PeoplePage } from "@/ui/access/people-page";

export default function Page() {
  return <PeoplePage />;
}
