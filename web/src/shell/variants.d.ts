import 'bootstrap-vue-next'

// Our own two looks of a button, beside Bootstrap's.
declare module 'bootstrap-vue-next' {
  interface BaseButtonVariant {
    outline: unknown
    plain: unknown
  }
}
