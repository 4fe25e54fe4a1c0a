/** Id of the place under the view where large editors are laid open, so that what they change stays in sight. */
export const DRAWER = 'workbench-drawer'
