import hooks from 'eslint-plugin-react-hooks'
import ts from 'typescript-eslint'

export default [
  ...ts.configs.recommended,
  { plugins: { 'react-hooks': hooks }, rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'warn' } },
  { ignores: ['dist', 'src/api/schema.ts'] },
]
