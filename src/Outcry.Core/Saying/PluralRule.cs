using System.Collections.Concurrent;
using System.Globalization;
using System.Text.RegularExpressions;

namespace Outcry.Core.Saying;

/// <summary>The classes into which languages sort their numbers; every language has <see cref="Other"/>.</summary>
public enum PluralClass
{
    /// <summary>As in Arabic for 0.</summary>
    Zero,

    /// <summary>As in English for 1.</summary>
    One,

    /// <summary>As in Arabic for 2.</summary>
    Two,

    /// <summary>As in Polish for 2 to 4.</summary>
    Few,

    /// <summary>As in Arabic for 11 to 99.</summary>
    Many,

    /// <summary>All the rest.</summary>
    Other,
}

/// <summary>Tells which form of a noun a whole number takes in a language.</summary>
/// <remarks>
/// Source: Unicode CLDR, cardinal plural rules; their syntax is UTS #35, part 3. Only whole numbers are ever said, so the
/// operands for fractions (v, w, f, t) and for compact notation (c, e) are 0.
/// </remarks>
public static partial class PluralRule
{
    private static readonly ConcurrentDictionary<string, (PluralClass Class, Condition[][] Rule)[]> Compiled = new();

    /// <summary>The class of a number.</summary>
    /// <param name="language">BCP 47 tag; only its main language counts, and an unknown one has no classes but "other".</param>
    /// <param name="number">0 or more; a fraction is cut off.</param>
    public static PluralClass For(string language, decimal number)
    {
        var whole = decimal.Truncate(Math.Abs(number));
        foreach (var (plural, rule) in Compiled.GetOrAdd(LanguageTag.Main(language), Compile))
        foreach (var alternative in rule)
            if (Array.TrueForAll(alternative, c => c.Holds(whole)))
                return plural;
        return PluralClass.Other;
    }

    /// <summary>Main languages whose classes are known.</summary>
    public static IReadOnlyCollection<string> Languages => [.. LanguageData.Shipped.Plurals.Keys];

    /// <summary>The classes that a language has, "other" last.</summary>
    public static IReadOnlyList<PluralClass> ClassesOf(string language) =>
        [.. Compiled.GetOrAdd(LanguageTag.Main(language), Compile).Select(c => c.Class), PluralClass.Other];

    private static (PluralClass, Condition[][])[] Compile(string language) =>
        LanguageData.Shipped.Plurals.TryGetValue(language, out var rules)
            ?
            [
                .. rules.Select(r =>
                    (
                        Enum.Parse<PluralClass>(r.Key, ignoreCase: true),
                        r.Value.Split(" or ").Select(a => a.Split(" and ").Select(Condition.Read).ToArray()).ToArray()
                    )
                ),
            ]
            : [];

    // relation = operand ('%' value)? ('=' | '!=') range_list, as in "n % 100 = 3..10".
    private sealed partial record Condition(
        char Operand,
        decimal? Modulo,
        bool Differs,
        (decimal From, decimal To)[] Ranges
    )
    {
        public bool Holds(decimal number)
        {
            var value = Operand is 'n' or 'i' ? number : 0;
            if (Modulo is { } modulo)
                value %= modulo;
            return Array.Exists(Ranges, r => value >= r.From && value <= r.To) != Differs;
        }

        public static Condition Read(string text)
        {
            var read = Relation().Match(text);
            if (!read.Success)
                throw new FormatException($"Not a plural rule: {text}");
            var modulo = read.Groups["mod"];
            return new Condition(
                read.Groups["operand"].ValueSpan[0],
                modulo.Success ? decimal.Parse(modulo.ValueSpan, CultureInfo.InvariantCulture) : null,
                read.Groups["not"].Success,
                [.. read.Groups["ranges"].Value.Split(',').Select(Range)]
            );
        }

        private static (decimal, decimal) Range(string text)
        {
            var ends = text.Trim().Split("..");
            var from = decimal.Parse(ends[0], CultureInfo.InvariantCulture);
            return (from, ends.Length == 1 ? from : decimal.Parse(ends[1], CultureInfo.InvariantCulture));
        }

        [GeneratedRegex(@"^\s*(?<operand>[nivwftce])(?:\s*%\s*(?<mod>\d+))?\s*(?<not>!)?=\s*(?<ranges>[\d.,\s]+)$")]
        private static partial Regex Relation();
    }
}
