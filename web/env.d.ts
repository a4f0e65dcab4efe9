declare module '*.css'
declare module '@fontsource/*'
