/** A rule for the linter: comments are prose, whose lines are kept short enough to be read. */
const MOST = 110;

const lineLength = {
  create(context) {
    return {
      Program() {
        const { lines } = context.sourceCode;
        for (const comment of context.sourceCode.getAllComments()) {
          for (let line = comment.loc.start.line; line <= comment.loc.end.line; line++) {
            const text = lines[line - 1];
            const only = line > comment.loc.start.line || text.slice(0, comment.loc.start.column).trim() === '';
            if (only && text.length > MOST && !comment.value.includes('oxlint-disable'))
              context.report({
                node: comment,
                message: `A line of a comment of ${text.length} characters; at most ${MOST}.`,
              });
          }
        }
      },
    };
  },
};

export default { meta: { name: 'prose' }, rules: { 'comment-length': lineLength } };
