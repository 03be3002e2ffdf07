declare module "*.md" {
  const pages: import("../../manual.plugin").Page[];
  export default pages;
}
