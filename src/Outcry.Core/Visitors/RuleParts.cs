namespace Outcry.Core.Visitors;

/// <summary>Looks through a rule.</summary>
public static class RuleParts
{
    /// <summary>The segments that a rule names, as often as it names them.</summary>
    public static IEnumerable<Guid> Segments(VisitorRule rule) =>
        rule switch
        {
            AllOf all => all.Rules.SelectMany(Segments),
            AnyOf any => any.Rules.SelectMany(Segments),
            NotThis not => Segments(not.Rule),
            InSegment segment => [segment.Segment],
            _ => [],
        };
}
