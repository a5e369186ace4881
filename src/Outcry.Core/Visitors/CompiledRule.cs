using System.Globalization;

namespace Outcry.Core.Visitors;

/// <summary>A comparison that decided against a visitor.</summary>
/// <param name="Test">The comparison.</param>
/// <param name="Value">The visitor's own value, in words; empty when there is none.</param>
/// <param name="Inverted">Whether it held and must not have.</param>
/// <param name="Segment">The segment in which it stands, by name; null when it stands in the callout's own rule.</param>
public sealed record FailedTest(FactTest Test, string Value, bool Inverted, string? Segment = null);

/// <summary>A visitor rule with its values read once, so that planning compares and parses nothing.</summary>
public abstract class CompiledRule
{
    /// <summary>Lets every visitor in.</summary>
    public static CompiledRule Everybody { get; } = new All([]);

    /// <summary>Whether the rule lets everybody in without looking.</summary>
    public bool IsOpen => this is All { Rules.Length: 0 };

    /// <summary>Whether it holds for a visitor.</summary>
    public abstract bool Holds(FactReader visitor);

    /// <summary>The comparison that decided, when the rule's outcome is not the wanted one; null when it is.</summary>
    /// <param name="visitor">The visitor.</param>
    /// <param name="wanted">The outcome asked for: true, or false within a "not".</param>
    public abstract FailedTest? Explain(FactReader visitor, bool wanted = true);

    /// <summary>Compiles a rule.</summary>
    /// <param name="rule">The rule.</param>
    /// <param name="segments">The site's segments.</param>
    /// <exception cref="FormatException">A value is not of its fact's type, a segment is gone, or segments go round in a circle.</exception>
    public static CompiledRule Compile(VisitorRule rule, IReadOnlyDictionary<Guid, Segment> segments) =>
        TryCompile(rule, segments, out var error) ?? throw new FormatException(error);

    /// <summary>Compiles a rule; null, and a sentence for its author, when it cannot be.</summary>
    public static CompiledRule? TryCompile(
        VisitorRule rule,
        IReadOnlyDictionary<Guid, Segment> segments,
        out string error
    )
    {
        var compiler = new Compiler(segments);
        try
        {
            error = "";
            return compiler.Read(rule, []);
        }
        catch (FormatException e)
        {
            error = e.Message;
            return null;
        }
    }

    private sealed class All(CompiledRule[] rules) : CompiledRule
    {
        public CompiledRule[] Rules => rules;

        public override bool Holds(FactReader visitor)
        {
            foreach (var rule in rules)
                if (!rule.Holds(visitor))
                    return false;
            return true;
        }

        public override FailedTest? Explain(FactReader visitor, bool wanted)
        {
            if (Holds(visitor) == wanted)
                return null;
            // Unwanted and yet it holds: each part holds, and the first stands for all.
            return rules.Select(r => r.Explain(visitor, wanted)).FirstOrDefault(f => f is not null);
        }
    }

    private sealed class Any(CompiledRule[] rules) : CompiledRule
    {
        public override bool Holds(FactReader visitor)
        {
            foreach (var rule in rules)
                if (rule.Holds(visitor))
                    return true;
            return rules.Length == 0;
        }

        public override FailedTest? Explain(FactReader visitor, bool wanted) =>
            Holds(visitor) == wanted
                ? null
                : rules.Select(r => r.Explain(visitor, wanted)).FirstOrDefault(f => f is not null);
    }

    private sealed class Not(CompiledRule rule) : CompiledRule
    {
        public override bool Holds(FactReader visitor) => !rule.Holds(visitor);

        public override FailedTest? Explain(FactReader visitor, bool wanted) => rule.Explain(visitor, !wanted);
    }

    private sealed class Named(string name, CompiledRule rule) : CompiledRule
    {
        public override bool Holds(FactReader visitor) => rule.Holds(visitor);

        public override FailedTest? Explain(FactReader visitor, bool wanted) =>
            rule.Explain(visitor, wanted) is { } failed ? failed with { Segment = failed.Segment ?? name } : null;
    }

    private sealed class Leaf(FactTest test, Predicate<FactReader> holds) : CompiledRule
    {
        public override bool Holds(FactReader visitor) => holds(visitor);

        public override FailedTest? Explain(FactReader visitor, bool wanted) =>
            holds(visitor) == wanted ? null : new FailedTest(test, ValueOf(visitor), Inverted: !wanted);

        private string ValueOf(FactReader visitor) =>
            FactKinds.Of(test.Fact) == FactKind.PastEvent
                ? visitor.LastDid(test)?.ToString("uuuu-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture) ?? ""
                : visitor.Text(test.Fact, test.Key);
    }

    private sealed class Compiler(IReadOnlyDictionary<Guid, Segment> segments)
    {
        private int _parts;

        public CompiledRule Read(VisitorRule rule, IReadOnlyList<Guid> within, int depth = 0)
        {
            if (++_parts > VisitorRule.MostParts)
                throw new FormatException($"At most {VisitorRule.MostParts} parts in one rule.");
            if (depth > VisitorRule.MostDepth)
                throw new FormatException($"Groups can stand {VisitorRule.MostDepth} deep at most.");
            return rule switch
            {
                AllOf all => new All([.. all.Rules.Select(r => Read(r, within, depth + 1))]),
                AnyOf any => new Any([.. any.Rules.Select(r => Read(r, within, depth + 1))]),
                NotThis not => new Not(Read(not.Rule, within, depth + 1)),
                InSegment segment => Segment(segment.Segment, within, depth),
                FactTest test => new Leaf(test, LeafTest.Compile(test)),
                _ => throw new FormatException("A part of this rule is of an unknown sort."),
            };
        }

        private Named Segment(Guid id, IReadOnlyList<Guid> within, int depth)
        {
            if (!segments.TryGetValue(id, out var segment))
                throw new FormatException("A segment that this rule names is gone.");
            if (within.Contains(id))
                throw new FormatException($"The segment \"{segment.Name}\" leads back to itself.");
            return new Named(segment.Name, Read(segment.Rule, [.. within, id], depth + 1));
        }
    }
}
