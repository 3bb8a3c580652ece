declare module '#auth-utils' {
  interface User {
    id: number
  }
}

export {}
