// what the package's own rooms give: all of it at once brings a dictionary of every property along
declare module 'css-tree/parser' {
  export { parse as default } from 'css-tree'
}
declare module 'css-tree/walker' {
  export { walk as default } from 'css-tree'
}
declare module 'css-tree/generator' {
  export { generate as default } from 'css-tree'
}
