using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;
using static Microsoft.CodeAnalysis.CSharp.SyntaxFactory;

namespace RapidLedger.Mutations;

/// <summary>
/// Makes the core note which of the drawn places are reached, so that a change is tried by those tests only that come by it.
/// </summary>
/// <param name="marks">The places, by their numbers, at the blocks and bodies around them.</param>
internal sealed class Reach(ILookup<SyntaxNode, int> marks) : CSharpSyntaxRewriter
{
    /// <summary>
    /// The variable of the environment that names the folder into which each process writes the numbers of what it reached.
    /// </summary>
    public const string Variable = "MUTATIONS_REACHED";

    /// <summary>
    /// What takes the notes; it belongs to the core while they are taken. Each is written at once, as a process may be killed.
    /// </summary>
    public static string Notes(int places) =>
        $$"""
            internal static class ReachedPlaces
            {
                private static readonly bool[] Reached = new bool[{{places}}];
                private static readonly string? Folder = System.Environment.GetEnvironmentVariable("{{Variable}}");
                internal static void Note(int place)
                {
                    if (Reached[place] || string.IsNullOrEmpty(Folder)) return;
                    lock (Reached)
                    {
                        if (Reached[place]) return;
                        Reached[place] = true;
                        System.IO.File.AppendAllText(System.IO.Path.Combine(Folder, System.Environment.ProcessId.ToString()), place + "\n");
                    }
                }
            }
            """;

    /// <summary>
    /// The block or body around a place that is entered before it is reached, or null where there is none (what a field begins with).
    /// </summary>
    public static SyntaxNode? Around(SyntaxNode place) =>
        place
            .Ancestors()
            .FirstOrDefault(node =>
                node is BlockSyntax
                || (
                    node is ArrowExpressionClauseSyntax
                    && node.Parent
                        is BaseMethodDeclarationSyntax
                            or AccessorDeclarationSyntax
                            or PropertyDeclarationSyntax
                            or IndexerDeclarationSyntax
                )
            );

    /// <summary>The node with what notes its places; bodies that are one expression become blocks.</summary>
    [return: System.Diagnostics.CodeAnalysis.NotNullIfNotNull(nameof(node))]
    public override SyntaxNode? Visit(SyntaxNode? node) =>
        (node, base.Visit(node)) switch
        {
            (BlockSyntax before, BlockSyntax block) => block.WithStatements(block.Statements.InsertRange(0, Notes(before))),
            (BaseMethodDeclarationSyntax { ExpressionBody: { } before } method, BaseMethodDeclarationSyntax visited)
                when marks.Contains(before) => visited
                .WithExpressionBody(null)
                .WithSemicolonToken(default)
                .WithBody(Body(before, visited.ExpressionBody!, ReturnsNothing(method))),
            (AccessorDeclarationSyntax { ExpressionBody: { } before } accessor, AccessorDeclarationSyntax visited)
                when marks.Contains(before) => visited
                .WithExpressionBody(null)
                .WithSemicolonToken(default)
                .WithBody(Body(before, visited.ExpressionBody!, !accessor.IsKind(SyntaxKind.GetAccessorDeclaration))),
            (PropertyDeclarationSyntax { ExpressionBody: { } before }, PropertyDeclarationSyntax visited) when marks.Contains(before) =>
                visited
                    .WithExpressionBody(null)
                    .WithSemicolonToken(default)
                    .WithAccessorList(Got(Body(before, visited.ExpressionBody!, false))),
            (IndexerDeclarationSyntax { ExpressionBody: { } before }, IndexerDeclarationSyntax visited) when marks.Contains(before) =>
                visited
                    .WithExpressionBody(null)
                    .WithSemicolonToken(default)
                    .WithAccessorList(Got(Body(before, visited.ExpressionBody!, false))),
            (_, var visited) => visited,
        };

    private static bool ReturnsNothing(BaseMethodDeclarationSyntax method) =>
        method
            is ConstructorDeclarationSyntax
                or MethodDeclarationSyntax { ReturnType: PredefinedTypeSyntax { Keyword.RawKind: (int)SyntaxKind.VoidKeyword } };

    private static AccessorListSyntax Got(BlockSyntax body) =>
        AccessorList(SingletonList(AccessorDeclaration(SyntaxKind.GetAccessorDeclaration, body)));

    private BlockSyntax Body(ArrowExpressionClauseSyntax before, ArrowExpressionClauseSyntax visited, bool nothingReturned) =>
        Block(
            (StatementSyntax[])
                [
                    .. Notes(before),
                    nothingReturned
                        ? ExpressionStatement(visited.Expression)
                        : ReturnStatement(
                            Token(SyntaxKind.ReturnKeyword).WithTrailingTrivia(Space),
                            visited.Expression,
                            Token(SyntaxKind.SemicolonToken)
                        ),
                ]
        );

    private IEnumerable<StatementSyntax> Notes(SyntaxNode around) =>
        marks[around].Select(place => ParseStatement($"global::ReachedPlaces.Note({place});"));
}
