/** What happened over all shots since somebody last looked. */
import type { HandoverNews, ShotNews } from "@/core/news/shot-news";

export interface NewsOfShot extends ShotNews {
  /** Its name in addresses, and for people. */
  readonly project: string;
  readonly projectTitle: string;
  readonly shot: string;
  readonly version: string;
}

/** Of what was handed over of a project's edit. */
export interface NewsOfEdit extends HandoverNews {
  readonly project: string;
  readonly projectTitle: string;
}

export interface NewsView {
  /** ISO 8601. */
  readonly since: string;
  readonly until: string;
  /** Those of which there is something to tell. */
  readonly shots: readonly NewsOfShot[];
  readonly edits: readonly NewsOfEdit[];
  /** Nodes that take no frames by their own fault, as sentences. */
  readonly nodes: readonly string[];
}
