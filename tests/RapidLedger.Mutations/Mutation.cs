using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;
using static Microsoft.CodeAnalysis.CSharp.SyntaxFactory;

namespace RapidLedger.Mutations;

/// <summary>One single wrong change: a place in the source and what stands there instead.</summary>
/// <param name="Tree">The file.</param>
/// <param name="Before">What stands there.</param>
/// <param name="After">What is put in its place.</param>
internal sealed record Mutation(SyntaxTree Tree, SyntaxNode Before, SyntaxNode After)
{
    private static readonly Dictionary<SyntaxKind, SyntaxKind> Operators = new()
    {
        [SyntaxKind.LessThanExpression] = SyntaxKind.LessThanOrEqualExpression,
        [SyntaxKind.LessThanOrEqualExpression] = SyntaxKind.LessThanExpression,
        [SyntaxKind.GreaterThanExpression] = SyntaxKind.GreaterThanOrEqualExpression,
        [SyntaxKind.GreaterThanOrEqualExpression] = SyntaxKind.GreaterThanExpression,
        [SyntaxKind.EqualsExpression] = SyntaxKind.NotEqualsExpression,
        [SyntaxKind.NotEqualsExpression] = SyntaxKind.EqualsExpression,
        [SyntaxKind.LogicalAndExpression] = SyntaxKind.LogicalOrExpression,
        [SyntaxKind.LogicalOrExpression] = SyntaxKind.LogicalAndExpression,
        [SyntaxKind.AddExpression] = SyntaxKind.SubtractExpression,
        [SyntaxKind.SubtractExpression] = SyntaxKind.AddExpression,
        [SyntaxKind.MultiplyExpression] = SyntaxKind.AddExpression,
        [SyntaxKind.DivideExpression] = SyntaxKind.MultiplyExpression,
    };

    private static readonly Dictionary<SyntaxKind, SyntaxKind> Tokens = new()
    {
        [SyntaxKind.LessThanExpression] = SyntaxKind.LessThanToken,
        [SyntaxKind.LessThanOrEqualExpression] = SyntaxKind.LessThanEqualsToken,
        [SyntaxKind.GreaterThanExpression] = SyntaxKind.GreaterThanToken,
        [SyntaxKind.GreaterThanOrEqualExpression] = SyntaxKind.GreaterThanEqualsToken,
        [SyntaxKind.EqualsExpression] = SyntaxKind.EqualsEqualsToken,
        [SyntaxKind.NotEqualsExpression] = SyntaxKind.ExclamationEqualsToken,
        [SyntaxKind.LogicalAndExpression] = SyntaxKind.AmpersandAmpersandToken,
        [SyntaxKind.LogicalOrExpression] = SyntaxKind.BarBarToken,
        [SyntaxKind.AddExpression] = SyntaxKind.PlusToken,
        [SyntaxKind.SubtractExpression] = SyntaxKind.MinusToken,
        [SyntaxKind.MultiplyExpression] = SyntaxKind.AsteriskToken,
    };

    private static readonly Dictionary<string, string> Names = new()
    {
        ["Min"] = "Max",
        ["Max"] = "Min",
        ["Any"] = "All",
        ["All"] = "Any",
        ["First"] = "Last",
        ["Last"] = "First",
        ["MinBy"] = "MaxBy",
        ["MaxBy"] = "MinBy",
        ["OrderBy"] = "OrderByDescending",
        ["OrderByDescending"] = "OrderBy",
        ["Skip"] = "Take",
        ["Take"] = "Skip",
    };

    /// <summary>Where it is and what it says, in one line.</summary>
    public override string ToString()
    {
        var place = Tree.GetLineSpan(Before.Span).StartLinePosition.Line + 1;
        return $"{Tree.FilePath}:{place}: `{Short(Before)}` -> `{Short(After)}`";
    }

    /// <summary>All that can be changed in a file.</summary>
    public static IEnumerable<Mutation> In(SyntaxTree tree)
    {
        foreach (
            var node in tree.GetRoot()
                .DescendantNodes(node => node is not AttributeSyntax and not ThrowExpressionSyntax and not ThrowStatementSyntax)
        )
        {
            if (Changed(node) is { } changed)
                yield return new(tree, node, changed.WithTriviaFrom(node));
        }
    }

    private static SyntaxNode? Changed(SyntaxNode node) =>
        node switch
        {
            BinaryExpressionSyntax binary when Operators.TryGetValue(binary.Kind(), out var other) => BinaryExpression(
                other,
                binary.Left,
                Token(binary.OperatorToken.LeadingTrivia, Tokens[other], binary.OperatorToken.TrailingTrivia),
                binary.Right
            ),
            BinaryExpressionSyntax { RawKind: (int)SyntaxKind.CoalesceExpression } binary => binary.Right,
            PrefixUnaryExpressionSyntax { RawKind: (int)SyntaxKind.LogicalNotExpression } not => not.Operand,
            PrefixUnaryExpressionSyntax { RawKind: (int)SyntaxKind.UnaryMinusExpression } minus => minus.Operand,
            LiteralExpressionSyntax { RawKind: (int)SyntaxKind.NumericLiteralExpression, Token.Value: int value } => LiteralExpression(
                SyntaxKind.NumericLiteralExpression,
                Literal(value + 1)
            ),
            LiteralExpressionSyntax { RawKind: (int)SyntaxKind.TrueLiteralExpression } => LiteralExpression(
                SyntaxKind.FalseLiteralExpression
            ),
            LiteralExpressionSyntax { RawKind: (int)SyntaxKind.FalseLiteralExpression } => LiteralExpression(
                SyntaxKind.TrueLiteralExpression
            ),
            ConditionalExpressionSyntax choice => choice.WithWhenTrue(choice.WhenFalse).WithWhenFalse(choice.WhenTrue),
            IdentifierNameSyntax { Parent: MemberAccessExpressionSyntax access } name
                when access.Name == name && Names.TryGetValue(name.Identifier.Text, out var other) => IdentifierName(other),
            ExpressionStatementSyntax
            {
                Expression: AssignmentExpressionSyntax or InvocationExpressionSyntax or PostfixUnaryExpressionSyntax
            } => EmptyStatement(),
            ContinueStatementSyntax or BreakStatementSyntax { Parent: not SwitchSectionSyntax } => EmptyStatement(),
            RelationalPatternSyntax pattern => pattern.WithOperatorToken(Opposite(pattern.OperatorToken)),
            _ => null,
        };

    private static SyntaxToken Opposite(SyntaxToken token) =>
        Token(
            token.LeadingTrivia,
            token.Kind() switch
            {
                SyntaxKind.LessThanToken => SyntaxKind.LessThanEqualsToken,
                SyntaxKind.LessThanEqualsToken => SyntaxKind.LessThanToken,
                SyntaxKind.GreaterThanToken => SyntaxKind.GreaterThanEqualsToken,
                _ => SyntaxKind.GreaterThanToken,
            },
            token.TrailingTrivia
        );

    private static string Short(SyntaxNode node)
    {
        var text = string.Join(' ', node.ToString().Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        return text.Length <= 90 ? text : text[..87] + "...";
    }
}
