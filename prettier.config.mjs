/** @type {import("prettier").Config} */
const config = { printWidth: 110 };

export default config;
