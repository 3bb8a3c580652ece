export * from './people'
export * from './sites'
export * from './experiments'
export * from './events'
