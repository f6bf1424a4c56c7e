import { recognize } from "./recognize";

test.each([
  [[], "HL010.", "main", "beauty"],
  [["HL010", "beauty"], "HL010_", "main", "beauty"],
  [["camB", "Z"], "HL010.", "camB", "depth"],
  [["cam_left", "normals"], "x.", "cam-left", "normal"],
  [["renders", "left"], "quay_ao.", "left", "occlusion"],
  // A folder says more than a name, a deeper one more than the one above.
  [["beauty", "diffuse"], "quay_spec.", "main", "diffuse"],
  [[], "quay-depth_v002_", "main", "depth"],
  [[], "quay_camera1_indirect.", "camera1", "indirect"],
  [["light_3"], "quay.", "main", "light-3"],
  [[], "quay_lgt02.", "main", "light-2"],
  // One letter in the middle of a name is a letter.
  [[], "shot_n_harbour.", "main", "beauty"],
  [[], "shot_n.", "main", "normal"],
  // A word is a whole word: a camp is no camera, a normandy no normal.
  [["camp site"], "normandy.", "main", "beauty"],
])("%j and %p are of camera %s, pass %s", (folders, prefix, camera, pass) =>
  expect(recognize(folders, prefix)).toEqual({ camera, pass }),
);
