using CsCheck;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Tests;

/// <summary>Small, valid examples for tests to vary.</summary>
internal static class Samples
{
    public static readonly Instant Now = Instant.FromUtc(2015, 11, 24, 14, 0);
    public static readonly Guid Source = Guid.Parse("00000000-0000-0000-0000-00000000aaaa");
    public static readonly PageAddress Shop = PageAddress.TryAt("pots.example", "/shop")!;

    public static CsCheck.Gen<T> OneOf<T>(params T[] values) =>
        CsCheck.Gen.Int[0, values.Length - 1].Select(i => values[i]);

    public static LedgerEvent Event(
        Duration? ago = null,
        string person = "noor",
        string? visitor = null,
        Place? place = null,
        string? category = null,
        decimal? amount = null
    ) =>
        new()
        {
            Id = Guid.NewGuid(),
            SourceId = Source,
            Kind = EventKind.Purchase,
            At = Now - (ago ?? Duration.FromMinutes(5)),
            Name = new PersonName("Noor", "H"),
            Place = place ?? Place.Unknown,
            PersonKey = person,
            VisitorId = visitor,
            Product = new EventProduct("Ash-glaze mug", "https://pots.example/shop/mug", null, category),
            Amount = amount,
            Currency = amount is null ? null : "GBP",
        };

    public static List<LedgerEvent> Events(int number) =>
        [
            .. Enumerable
                .Range(0, number)
                .Select(i => Event(ago: Duration.FromMinutes(i + 1), person: $"p{i}", visitor: $"v{i}")),
        ];

    public static EvidenceRule Rule(
        Duration? window = null,
        FieldCondition[]? conditions = null,
        Join join = Join.All
    ) => new([Source], conditions ?? [], join, window, 1);

    public static WhereFacet Where(string[] includes, string[] excludes) =>
        new(includes, excludes, [], Replaces: false);

    public static WhenFacet When(int afterSeconds, int turns, int turnGapSeconds) =>
        new([Trigger.After(afterSeconds)], Join.All, turns, turnGapSeconds, 1, Schedule.Always, OnlyIfAvailable: false);

    public static HowOftenFacet Often(RepeatUnit unit, int every, int? mostVisits, int hushHours) =>
        new(unit, every, mostVisits, null, UntilClicked: false, hushHours, Pause.None, [], Pause.ForEver);

    public static Brief Brief() => StarterBrief.Moment(EventKind.Purchase, [Source]);

    public static Callout Live(
        string name,
        Brief? brief = null,
        DefinitionState state = DefinitionState.Live,
        int age = 0,
        SiteContext? shared = null
    ) => new(new Definition(Guid.NewGuid(), name, state, Now - Duration.FromDays(age), 1), brief ?? Brief(), shared);

    public static SiteSnapshot Site(
        IEnumerable<Callout> callouts,
        IReadOnlyList<LedgerEvent>? events = null,
        HouseRules? rules = null,
        bool offAir = false
    ) => new(rules ?? HouseRules.Start, offAir, callouts, events ?? Events(10), _ => DisplayPolicy.Start, Now);

    public static SiteSnapshot Site(
        SiteConditions circumstances,
        IEnumerable<Callout> callouts,
        IReadOnlyList<LedgerEvent>? events = null,
        HouseRules? rules = null
    ) =>
        new(
            rules ?? HouseRules.Start,
            false,
            callouts,
            events ?? Events(10),
            _ => DisplayPolicy.Start,
            Now,
            circumstances
        );

    public static VisitorRecord Visitor() => VisitorRecord.New("visitor", Now).Arrive(Now);

    public static Plan Explain(
        SiteSnapshot site,
        VisitorRecord? visitor = null,
        PageAddress? page = null,
        Instant? now = null,
        VisitorFacts? facts = null
    ) =>
        Planner.MakePlan(
            site,
            page ?? Shop,
            visitor ?? Visitor(),
            facts ?? VisitorFacts.Unknown,
            now ?? Now,
            PlanOptions.Explained
        );

    public static Reason ReasonFor(
        SiteSnapshot site,
        VisitorRecord? visitor = null,
        PageAddress? page = null,
        Instant? now = null,
        VisitorFacts? facts = null
    ) => Assert.Single(Explain(site, visitor, page, now, facts).LeftOut).Reason;
}
