export { default } from 'primevue/datatable'
