using System.Globalization;
using Outcry.Core.Pages;
using Outcry.Core.Saying;

namespace Outcry.Core.Visitors;

/// <summary>Turns one comparison into a test whose value is read already.</summary>
internal static class LeafTest
{
    /// <exception cref="FormatException">The value is not of the fact's type, or the comparison is none of its.</exception>
    public static Predicate<FactReader> Compile(FactTest test)
    {
        if (!FactKinds.Comparisons(test.Fact).Contains(test.Comparison))
            throw new FormatException($"{Name(test.Fact)} cannot be compared like that.");
        if (FactKinds.KeyOf(test.Fact) is { } key && test.Key.Length == 0)
            throw new FormatException($"Choose which {key} is meant.");
        if (test.WithinDays is < 1 or > 730)
            throw new FormatException("Within 1 to 730 days.");
        return FactKinds.Of(test.Fact) switch
        {
            FactKind.Number => Number(test),
            FactKind.Choice => Choice(test),
            FactKind.Page => Page(test),
            FactKind.PastEvent => PastEvent(test),
            _ => Text(test),
        };
    }

    private static Predicate<FactReader> Number(FactTest test)
    {
        if (!int.TryParse(test.Value, NumberStyles.Integer, CultureInfo.InvariantCulture, out var wanted))
            throw new FormatException($"{Name(test.Fact)} is compared with a whole number; \"{test.Value}\" is none.");
        var fact = test.Fact;
        // A number that a visitor does not have (days since a visit that never was) is neither more nor less, and is not equal to any.
        return test.Comparison switch
        {
            FactComparison.AtLeast => v => v.Number(fact) >= wanted,
            FactComparison.AtMost => v => v.Number(fact) <= wanted,
            FactComparison.Is => v => v.Number(fact) == wanted,
            _ => v => v.Number(fact) != wanted,
        };
    }

    private static Predicate<FactReader> Choice(FactTest test)
    {
        var choices = FactKinds.Choices(test.Fact);
        if (!choices.Contains(test.Value))
            throw new FormatException(
                $"{Name(test.Fact)} is {string.Join(" or ", choices)}; \"{test.Value}\" is neither."
            );
        var wanted = test.Comparison == FactComparison.Is;
        return v => v.Text(test.Fact, "") == test.Value == wanted;
    }

    private static Predicate<FactReader> Page(FactTest test)
    {
        var pattern = PagePattern.TryParse(test.Value, out var error) ?? throw new FormatException(error);
        var wanted = test.Comparison == FactComparison.Is;
        return v =>
            v.Record.Visit.WayIn.EntryPage is { Length: > 0 } entry
            && pattern.Matches(PageAddress.OfNote(entry)) == wanted;
    }

    private static Predicate<FactReader> PastEvent(FactTest test)
    {
        var wanted = test.Comparison == FactComparison.Is;
        return v => v.LastDid(test) is not null == wanted;
    }

    private static Predicate<FactReader> Text(FactTest test)
    {
        if (test.Comparison is not (FactComparison.Filled or FactComparison.Empty) && test.Value.Length == 0)
            throw new FormatException($"{Name(test.Fact)} is compared with nothing yet.");
        if (test.Fact == VisitorFact.Language)
            return Words(test, v => v.Facts.Languages, Speaks);
        if (test.Fact == VisitorFact.Tag)
            return Words(test, v => v.Facts.Tags, Same);
        if (test.Comparison is FactComparison.AtLeast or FactComparison.AtMost)
            return Order(test);
        return test.Comparison switch
        {
            FactComparison.Is => v => Same(v.Text(test.Fact, test.Key), test.Value),
            FactComparison.IsNot => v => !Same(v.Text(test.Fact, test.Key), test.Value),
            FactComparison.Contains => v =>
                v.Text(test.Fact, test.Key).Contains(test.Value, StringComparison.OrdinalIgnoreCase),
            FactComparison.Filled => v => v.Text(test.Fact, test.Key).Length > 0,
            _ => v => v.Text(test.Fact, test.Key).Length == 0,
        };
    }

    // What is neither a number nor a date, or the other of the two, is neither more nor less.
    private static Predicate<FactReader> Order(FactTest test)
    {
        if (OrderedValue.TryRead(test.Value) is not { } wanted)
            throw new FormatException(
                $"\"{test.Value}\" is neither a number nor a date. Write it like 12.5 or {OrderedValue.ExampleDate}."
            );
        var atLeast = test.Comparison == FactComparison.AtLeast;
        return v =>
            OrderedValue.TryRead(v.Text(test.Fact, test.Key))?.CompareTo(wanted) is { } order
            && (atLeast ? order >= 0 : order <= 0);
    }

    private static Predicate<FactReader> Words(
        FactTest test,
        Func<FactReader, IReadOnlyCollection<string>> of,
        Func<string, string, bool> same
    ) =>
        test.Comparison switch
        {
            FactComparison.Is => v => of(v).Any(w => same(w, test.Value)),
            FactComparison.IsNot => v => !of(v).Any(w => same(w, test.Value)),
            FactComparison.Contains => v => of(v).Any(w => w.Contains(test.Value, StringComparison.OrdinalIgnoreCase)),
            FactComparison.Filled => v => of(v).Count > 0,
            _ => v => of(v).Count == 0,
        };

    private static bool Same(string left, string right) =>
        string.Equals(left, right, StringComparison.OrdinalIgnoreCase);

    private static bool Speaks(string tag, string wanted) => LanguageTag.Chain(tag).Any(t => Same(t, wanted));

    /// <summary>A fact as it begins a sentence.</summary>
    public static string Name(VisitorFact fact) => FactWords.Name(fact, capital: true);
}
