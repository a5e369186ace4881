using Fluid;
using Fluid.Ast;

namespace Outcry.Core.Saying;

/// <summary>What may stand in a message: text, tokens by their plain names, texts in quotes, and a few filters.</summary>
/// <remarks>
/// A list of what may, not of what may not: Liquid has ranges that make a hundred million numbers of twelve characters, and
/// filters that multiply, search and throw. None of it is needed to say one sentence.
/// </remarks>
internal sealed class TemplateLimits : AstVisitor
{
    /// <summary>Filters that work on one text, and whose result has an end.</summary>
    private static readonly string[] Filters =
    [
        "default",
        PluralFilter.Name,
        "capitalize",
        "upcase",
        "downcase",
        "strip",
        "append",
        "prepend",
        ReplaceFilter.Name,
    ];

    /// <summary>Filters and their arguments one within another; nobody writes more than two.</summary>
    private const int MostDepth = 12;

    private string? _objection;
    private int _depth;

    /// <summary>A sentence for the author, or null when everything may stand there.</summary>
    public static string? Objection(IFluidTemplate template)
    {
        var limits = new TemplateLimits();
        limits.VisitTemplate(template);
        return limits._objection;
    }

    /// <inheritdoc />
    public override Statement Visit(Statement statement)
    {
        if (statement is not (TextSpanStatement or OutputStatement))
            Object("Only tokens in {{ double braces }} can be used in a message.");
        return _objection is null ? base.Visit(statement) : statement;
    }

    /// <inheritdoc />
    public override Expression Visit(Expression expression)
    {
        if (++_depth > MostDepth)
            Object("Too many filters stand one behind another.");
        else if (expression is RangeExpression)
            Object("A token cannot be a range such as (1..10). Write the token's name.");
        else if (expression is not (MemberExpression or LiteralExpression or FilterExpression))
            Object("A token cannot be calculated. Write its name, and after a | what is done with it.");
        var visited = _objection is null ? base.Visit(expression) : expression;
        _depth--;
        return visited;
    }

    /// <inheritdoc />
    protected override Expression VisitFilterExpression(FilterExpression filterExpression)
    {
        if (!Filters.Contains(filterExpression.Name))
            Object($"There is no \"{filterExpression.Name}\" here. There are: {string.Join(", ", Filters)}.");
        return _objection is null ? base.VisitFilterExpression(filterExpression) : filterExpression;
    }

    /// <inheritdoc />
    protected override Expression VisitMemberExpression(MemberExpression memberExpression)
    {
        if (memberExpression.Segments.Any(s => s is not IdentifierSegment))
            Object("A token is written by its name alone, without brackets.");
        return memberExpression;
    }

    private void Object(string sentence) => _objection ??= sentence;
}
