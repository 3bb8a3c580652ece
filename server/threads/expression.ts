export { findRegexProblem as default } from '../../core/targeting/regexProblem'
