/** The standard parts that templates name without importing them; see vite.config.ts. */
export {}

declare module 'vue' {
  export interface GlobalComponents {
    BDropdown: (typeof import('bootstrap-vue-next/components/BDropdown'))['BDropdown']
    BDropdownDivider: (typeof import('bootstrap-vue-next/components/BDropdown'))['BDropdownDivider']
    BDropdownItem: (typeof import('bootstrap-vue-next/components/BDropdown'))['BDropdownItem']
    BDropdownItemButton: (typeof import('bootstrap-vue-next/components/BDropdown'))['BDropdownItemButton']
    BFormInput: (typeof import('bootstrap-vue-next/components/BFormInput'))['BFormInput']
    BModal: (typeof import('bootstrap-vue-next/components/BModal'))['BModal']
    RouterLink: (typeof import('vue-router'))['RouterLink']
    RouterView: (typeof import('vue-router'))['RouterView']
  }
}
