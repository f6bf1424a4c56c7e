/** Where people come in. */
import { SignInPage } from "@/ui/access/sign-in-page";

export default async function Page({
  searchParams,
}: {
  readonly searchParams: Promise<{ readonly to?: string | string[] }>;
}) {
  const { to } = await searchParams;
  return <SignInPage to={typeof to === "string" ? to : "/"} />;
}
