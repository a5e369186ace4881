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

    /// <summary>The comparisons that stand in a rule itself, not in the segments it names.</summary>
    public static IEnumerable<FactTest> Tests(VisitorRule rule) =>
        rule switch
        {
            AllOf all => all.Rules.SelectMany(Tests),
            AnyOf any => any.Rules.SelectMany(Tests),
            NotThis not => Tests(not.Rule),
            FactTest test => [test],
            _ => [],
        };
}
