using System.Globalization;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Visitors;

namespace Outcry.Core.Rehearsing;

/// <summary>Finds a visitor who fits a rule, changing as little of an imagined one as the rule asks for.</summary>
/// <remarks>
/// Goes through the rule and changes fact by fact; where one of several parts is enough each is tried, and whoever comes
/// out is held against the compiled rule before being believed. A rule that contradicts itself has nobody.
/// </remarks>
public static class Casting
{
    // Parts of a rule multiply where each may be met in several ways; real rules need a handful.
    private const int MostTried = 500;

    /// <summary>A visitor for whom the rule holds, or null when none is found.</summary>
    /// <param name="rule">The rule.</param>
    /// <param name="segments">The site's segments.</param>
    /// <param name="start">From whom to start.</param>
    /// <param name="now">When the visit is imagined.</param>
    /// <param name="zone">The site's time zone.</param>
    public static ImaginedVisitor? TryCast(
        VisitorRule rule,
        IReadOnlyDictionary<Guid, Segment> segments,
        ImaginedVisitor start,
        Instant now,
        DateTimeZone zone
    )
    {
        if (CompiledRule.TryCompile(rule, segments, out _) is not { } compiled)
            return null;
        var stage = new Stage(segments, now, zone);
        return stage.Fit(rule, wanted: true, start).Take(MostTried).FirstOrDefault(v => compiled.Holds(stage.See(v)));
    }

    private sealed class Stage(IReadOnlyDictionary<Guid, Segment> segments, Instant now, DateTimeZone zone)
    {
        /// <summary>The visitor as rules see them on the first page.</summary>
        public FactReader See(ImaginedVisitor visitor) =>
            new(
                visitor.RecordAt("casting", now, []).Arrive(now).CameIn(visitor.CameBy),
                visitor.FactsAt(now, zone),
                visitor.PastEventsAt(now),
                now
            );

        public IEnumerable<ImaginedVisitor> Fit(VisitorRule rule, bool wanted, ImaginedVisitor visitor) =>
            rule switch
            {
                NotThis not => Fit(not.Rule, !wanted, visitor),
                InSegment segment => Fit(segments[segment.Segment].Rule, wanted, visitor),
                AllOf all when wanted => Every(all.Rules, wanted, visitor),
                AnyOf { Rules.Count: 0 } when wanted => [visitor],
                AnyOf any when !wanted => Every(any.Rules, wanted, visitor),
                AllOf all => all.Rules.SelectMany(r => Fit(r, wanted, visitor)),
                AnyOf any => any.Rules.SelectMany(r => Fit(r, wanted, visitor)),
                FactTest test => Fit(test, wanted, visitor),
                _ => [],
            };

        private IEnumerable<ImaginedVisitor> Every(
            IReadOnlyList<VisitorRule> rules,
            bool wanted,
            ImaginedVisitor visitor
        ) =>
            rules.Aggregate(
                (IEnumerable<ImaginedVisitor>)[visitor],
                (fitting, rule) => fitting.SelectMany(v => Fit(rule, wanted, v))
            );

        private IEnumerable<ImaginedVisitor> Fit(FactTest test, bool wanted, ImaginedVisitor visitor)
        {
            if (LeafTest.Compile(test)(See(visitor)) == wanted)
                yield return visitor;
            else if (Change(wanted ? test : Opposite(test), visitor) is { } changed)
                yield return changed;
        }

        private static ImaginedVisitor? Change(FactTest test, ImaginedVisitor v) =>
            FactKinds.Of(test.Fact) switch
            {
                FactKind.Choice => Choose(test, v),
                FactKind.Number => Count(test, v),
                FactKind.Page => Enter(test, v),
                FactKind.PastEvent => Do(test, v),
                _ => Say(test, v),
            };

        private static ImaginedVisitor Choose(FactTest test, ImaginedVisitor v)
        {
            var value =
                test.Comparison == FactComparison.Is
                    ? test.Value
                    : FactKinds.Choices(test.Fact).First(c => c != test.Value);
            return test.Fact switch
            {
                VisitorFact.Standing => value == "new"
                    ? v with
                    {
                        VisitNumber = 1,
                        Saw = [],
                        Closed = [],
                        MetEverything = false,
                    }
                    : v with
                    {
                        VisitNumber = Math.Max(2, v.VisitNumber),
                    },
                VisitorFact.Device => v with { Device = Enum.Parse<Device>(value, ignoreCase: true) },
                _ => v with { IsKnown = value == "known" },
            };
        }

        private const long Beyond = 10_000_000;

        private static ImaginedVisitor? Count(FactTest test, ImaginedVisitor v)
        {
            // Beyond what any visitor can have there is nobody to look for, and no number to overflow.
            var n = (int)Math.Clamp(long.Parse(test.Value, CultureInfo.InvariantCulture), -Beyond, Beyond);
            var number = test.Comparison == FactComparison.IsNot ? n + 1 : n;
            var changed = test.Fact switch
            {
                VisitorFact.VisitNumber => v with { VisitNumber = number },
                // The first page imagined is counted already when rules look.
                VisitorFact.PagesThisVisit => v with { PagesBefore = number - 1 },
                VisitorFact.PagesEver => v with { PagesEver = number - 1 },
                VisitorFact.SecondsOnSite => v with
                {
                    SecondsOnSite = number,
                    PagesBefore = Math.Max(1, v.PagesBefore),
                },
                VisitorFact.DaysSinceLastVisit => v with
                {
                    HoursSinceLastVisit = Math.Max(1, number * 24 + (number == 0 ? 1 : 0)),
                    VisitNumber = Math.Max(2, v.VisitNumber),
                },
                _ => v with { LocalHour = ((number % 24) + 24) % 24 },
            };
            return changed.Problem is null ? changed : null;
        }

        private static ImaginedVisitor Enter(FactTest test, ImaginedVisitor v) =>
            test.Comparison == FactComparison.Is
                ? v with
                {
                    EntryPage = PagePattern.Parse(test.Value).SampleNote(),
                    PagesBefore = Math.Max(1, v.PagesBefore),
                }
                : v with
                {
                    EntryPage = "/another-page",
                    PagesBefore = Math.Max(1, v.PagesBefore),
                };

        private static ImaginedVisitor? Do(FactTest test, ImaginedVisitor v)
        {
            var does = test.Comparison == FactComparison.Is;
            Guid? key = Guid.TryParse(test.Key, out var id) ? id : null;
            return test.Fact switch
            {
                VisitorFact.Saw when key is { } callout => does
                    ? Meet(v, test) with
                    {
                        Saw = [.. v.Saw, callout],
                    }
                    : v with
                    {
                        Saw = [.. v.Saw.Where(s => s != callout)],
                        Closed = Without(v, callout),
                        MetEverything = false,
                    },
                VisitorFact.Closed when key is { } callout => does
                    ? Meet(v, test) with
                    {
                        Closed = [.. v.Closed, callout],
                    }
                    : v with
                    {
                        Closed = Without(v, callout),
                    },
                VisitorFact.Bought when does => v with
                {
                    PastEvents = [.. v.PastEvents, new ImaginedEvent(EventKind.Purchase, null, test.Value, test.Value)],
                },
                VisitorFact.Bought => v with
                {
                    PastEvents = [.. v.PastEvents.Where(d => d.Kind != EventKind.Purchase)],
                },
                VisitorFact.Submitted when does => v with
                {
                    PastEvents = [.. v.PastEvents, new ImaginedEvent(EventKind.SignUp, key)],
                },
                VisitorFact.Submitted => v with
                {
                    PastEvents = [.. v.PastEvents.Where(d => d.Kind == EventKind.Purchase)],
                },
                _ => null,
            };
        }

        private static IReadOnlyList<Guid> Without(ImaginedVisitor v, Guid callout) =>
            [.. v.Closed.Where(c => c != callout)];

        // What was met was met in the visit before, which must lie within the days asked for.
        private static ImaginedVisitor Meet(ImaginedVisitor v, FactTest test) =>
            v with
            {
                VisitNumber = Math.Max(2, v.VisitNumber),
                HoursSinceLastVisit = test.WithinDays is { } days
                    ? Math.Min(v.HoursSinceLastVisit, days * 24 - 1)
                    : v.HoursSinceLastVisit,
            };

        private static ImaginedVisitor Say(FactTest test, ImaginedVisitor v)
        {
            var value = test.Comparison switch
            {
                FactComparison.Is or FactComparison.Contains or FactComparison.AtLeast or FactComparison.AtMost =>
                    test.Value,
                FactComparison.Filled => $"some {FactWords.Name(test.Fact)}",
                _ => "",
            };
            return test.Fact switch
            {
                VisitorFact.Referrer => v with { Referrer = value },
                VisitorFact.Campaign => v with { Campaign = With(v.Campaign, test.Key, value) },
                VisitorFact.Country => v with { Country = value },
                VisitorFact.Region => v with { Region = value },
                VisitorFact.City => v with { City = value },
                VisitorFact.Attribute => v with { Attributes = With(v.Attributes, test.Key, value) },
                VisitorFact.Language => v with
                {
                    Languages = Words(v.Languages, test, test.Comparison == FactComparison.Filled ? "en" : value),
                },
                _ => v with { Tags = Words(v.Tags, test, value) },
            };
        }

        private static IReadOnlyList<string> Words(IReadOnlyList<string> words, FactTest test, string value) =>
            test.Comparison switch
            {
                FactComparison.Empty => [],
                FactComparison.IsNot => [.. words.Where(w => !Means(w, test.Value))],
                _ => [value, .. words],
            };

        private static bool Means(string word, string wanted) =>
            word.Equals(wanted, StringComparison.OrdinalIgnoreCase)
            || word.StartsWith($"{wanted}-", StringComparison.OrdinalIgnoreCase);

        private static Dictionary<string, string> With(
            IReadOnlyDictionary<string, string> known,
            string key,
            string value
        ) => new(known) { [key] = value };

        private static FactTest Opposite(FactTest test) =>
            test.Comparison switch
            {
                FactComparison.Is => test with { Comparison = FactComparison.IsNot },
                FactComparison.IsNot => test with { Comparison = FactComparison.Is },
                FactComparison.AtLeast => Step(test, FactComparison.AtMost, -1),
                FactComparison.AtMost => Step(test, FactComparison.AtLeast, 1),
                FactComparison.Empty => test with { Comparison = FactComparison.Filled },
                FactComparison.Filled => test with { Comparison = FactComparison.Empty },
                _ => test with { Comparison = FactComparison.Empty },
            };

        private static FactTest Step(FactTest test, FactComparison comparison, int by) =>
            test with
            {
                Comparison = comparison,
                Value = OrderedValue.TryRead(test.Value)!.Value.Next(by),
            };
    }
}
