using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>Where, who, when and how often: what may be asked for, and what is then decided.</summary>
public sealed class TargetingTests
{
    private static readonly Guid Gone = Guid.NewGuid();

    private static Targeting.Targeting Start => Of(Brief());

    private static Targeting.Targeting Of(Briefs.Brief brief) =>
        new(brief.Where, brief.Who, brief.When, brief.HowOften, brief.HoldbackPercent);

    private static List<Problem> Check(Targeting.Targeting targeting, CheckMoment? moment = null) =>
        [.. TargetingCheck.Problems(targeting, SiteContext.Nothing, [], moment)];

    private static Targeting.Targeting Waiting(params Trigger[] triggers) =>
        Start with
        {
            When = Start.When with { Triggers = triggers },
        };

    private static Targeting.Targeting On(Func<Schedule, Schedule> change) =>
        Start with
        {
            When = Start.When with { Schedule = change(Schedule.Always) },
        };

    private static LocalDateTime Day(int day) => new(2015, 11, day, 0, 0);

    public static TheoryData<Targeting.Targeting, string, string> Refused() =>
        new()
        {
            { Start with { Where = Where(["shop"], []) }, "where.includes", "shop: " },
            { Start with { Where = Where([], ["shop"]) }, "where.excludes", "shop: " },
            {
                Start with
                {
                    Where = Where([.. Enumerable.Range(0, 200).Select(i => $"/p{i}")], ["/q"]),
                },
                "where.includes",
                "At most 200 patterns in one brief."
            },
            {
                Start with
                {
                    Where = Where(["/shop/*"], ["/shop/**"]),
                },
                "where.excludes",
                "Every page that it includes is also left out, so it would show nowhere. Take one of the two out."
            },
            {
                Start with
                {
                    Where = Where([], ["/**"]),
                },
                "where.excludes",
                "Every page that it includes is also left out, so it would show nowhere. Take one of the two out."
            },
            {
                Start with
                {
                    Where = new WhereFacet([], [], [Gone], Replaces: false),
                },
                "where.groups",
                "A page group it names is gone. Choose another, or take it out."
            },
            { Start with { Who = new WhoFacet(new InSegment(Gone), []) }, "who.rule", "" },
            {
                Start with
                {
                    Who = new WhoFacet(VisitorRule.Everybody, [Device.Phone, Device.Tablet, Device.Desktop]),
                },
                "who.hiddenOn",
                "It is hidden on every device, so nobody would see it."
            },
            { Often(o => o with { Every = 0 }), "howOften.every", "Between 1 and 1,000 visits." },
            {
                Often(o => o with { Unit = RepeatUnit.Days, Every = 1_001 }),
                "howOften.every",
                "Between 1 and 1,000 days."
            },
            { Often(o => o with { MostVisits = 0 }), "howOften.mostVisits", "Between 1 and 1,000 visits in all." },
            { Often(o => o with { MostVisits = 1_001 }), "howOften.mostVisits", "Between 1 and 1,000 visits in all." },
            { Often(o => o with { MostPerWeek = 0 }), "howOften.mostPerWeek", "Between 1 and 10 visits a week." },
            { Often(o => o with { MostPerWeek = 11 }), "howOften.mostPerWeek", "Between 1 and 10 visits a week." },
            {
                Often(o => o with { HushHours = -1 }),
                "howOften.hushHours",
                "The hush must be between 0 hours and a year."
            },
            {
                Often(o => o with { HushHours = 8_761 }),
                "howOften.hushHours",
                "The hush must be between 0 hours and a year."
            },
            {
                Often(o => o with { AfterClose = new Pause(RepeatUnit.Days, 0) }),
                "howOften.afterClose",
                "Between 1 and 1,000."
            },
            {
                Often(o => o with { AfterSuccess = new Pause(RepeatUnit.Days, 1_001) }),
                "howOften.afterSuccess",
                "Between 1 and 1,000."
            },
            {
                Often(o => o with { Goals = [Gone] }),
                "howOften.goals",
                "A source whose events mean success is gone. Choose another, or take it out."
            },
            { Start with { HoldbackPercent = -1 }, "holdbackPercent", "Between 0 and 90 percent can be held back." },
            { Start with { HoldbackPercent = 91 }, "holdbackPercent", "Between 0 and 90 percent can be held back." },
            {
                Waiting([.. Enumerable.Range(0, 11).Select(_ => Trigger.After(1))]),
                "when.triggers",
                "At most 10 conditions of the moment."
            },
            { Waiting(Trigger.After(3_601)), "when.triggers", "The wait in seconds must be between 0 and 3,600." },
            {
                Waiting(new Trigger(TriggerKind.Idle, 0)),
                "when.triggers",
                "The rest in seconds must be between 1 and 3,600."
            },
            {
                Waiting(new Trigger(TriggerKind.Scroll, 101)),
                "when.triggers",
                "The depth in percent must be between 1 and 100."
            },
            {
                Waiting(new Trigger(TriggerKind.Pages, 0)),
                "when.triggers",
                "The number of pages must be between 1 and 100."
            },
            {
                Waiting(new Trigger(TriggerKind.PageEvent, Target: new string('x', 301))),
                "when.triggers",
                "A selector or name has at most 300 characters."
            },
            {
                Waiting(new Trigger(TriggerKind.Click, Target: "#a >")),
                "when.triggers",
                "\"#a >\" is no selector that a browser can read. Write one such as #workshops or .price."
            },
            {
                Waiting(new Trigger(TriggerKind.InView, Target: " ")),
                "when.triggers",
                "Choose the element: write a selector such as #workshops or .price."
            },
            {
                Waiting(new Trigger(TriggerKind.PageEvent)),
                "when.triggers",
                "Write the name under which the page reports the event."
            },
            {
                On(s => s with { From = Day(24), Until = Day(24) }),
                "when.schedule",
                "It would be over before it begins. Put the end after the beginning."
            },
            {
                On(s => s with { EventStarts = Day(24), EventEnds = Day(23) }),
                "when.schedule",
                "The event would end before it starts."
            },
            {
                On(s =>
                    s with
                    {
                        Hours =
                        [
                            .. Enumerable.Repeat(
                                new HoursSpan(IsoDayOfWeek.Monday, new LocalTime(9, 0), new LocalTime(10, 0)),
                                51
                            ),
                        ],
                    }
                ),
                "when.schedule",
                "At most 50 stretches of hours in a week."
            },
        };

    private static Targeting.Targeting Often(Func<HowOftenFacet, HowOftenFacet> change) =>
        Start with
        {
            HowOften = change(Start.HowOften),
        };

    [Theory]
    [MemberData(nameof(Refused), DisableDiscoveryEnumeration = true)]
    public void What_cannot_be_kept_to_is_refused_in_words(Targeting.Targeting targeting, string field, string says)
    {
        var problem = Assert.Single(Check(targeting));
        Assert.Equal((field, true), (problem.Field, problem.Blocks));
        if (says.EndsWith(": ", StringComparison.Ordinal) || says.Length == 0)
            Assert.StartsWith(says, problem.Message, StringComparison.Ordinal);
        else
            Assert.Equal(says, problem.Message);
    }

    public static TheoryData<Targeting.Targeting> Allowed() =>
        [
            Start,
            Start with
            {
                Where = Where([.. Enumerable.Range(0, 199).Select(i => $"/p{i}")], ["/q"]),
            },
            Start with
            {
                Where = Where(["/shop/**", "/studio"], ["/shop/**"]),
            },
            Often(o => o with { Every = 1, MostVisits = 1, MostPerWeek = 1, HushHours = 0 }),
            Often(o => o with { Every = 1_000, MostVisits = 1_000, MostPerWeek = 10, HushHours = 8_760 }),
            Often(o =>
                o with
                {
                    AfterClose = new Pause(RepeatUnit.Days, 1),
                    AfterSuccess = new Pause(RepeatUnit.Days, 1),
                }
            ),
            Often(o =>
                o with
                {
                    AfterClose = new Pause(RepeatUnit.Days, 1_000),
                    AfterSuccess = new Pause(RepeatUnit.Days, 1_000),
                }
            ),
            Start with
            {
                HoldbackPercent = 90,
            },
            Waiting([.. Enumerable.Range(0, 10).Select(_ => Trigger.After(3_600))]),
            Waiting(new Trigger(TriggerKind.Idle, 3_600), new Trigger(TriggerKind.Scroll, 100)),
            Waiting(new Trigger(TriggerKind.PageEvent, Target: new string('x', 300))),
            Waiting(new Trigger(TriggerKind.VideoEnd), new Trigger(TriggerKind.Leaving)),
            On(s => s with { EventStarts = Day(24), EventEnds = Day(24) }),
            On(s =>
                s with
                {
                    Hours =
                    [
                        .. Enumerable.Repeat(
                            new HoursSpan(IsoDayOfWeek.Monday, new LocalTime(9, 0), new LocalTime(10, 0)),
                            50
                        ),
                    ],
                }
            ),
        ];

    [Theory]
    [MemberData(nameof(Allowed), DisableDiscoveryEnumeration = true)]
    public void What_lies_within_the_limits_is_not_objected_to(Targeting.Targeting targeting) =>
        Assert.Empty(Check(targeting));

    [Fact]
    public void Taking_a_place_on_every_page_is_no_use_and_stops_nobody()
    {
        var problem = Assert.Single(Check(Start with { Where = new WhereFacet([], [], [], Replaces: true) }));
        Assert.Equal(("where.replaces", false), (problem.Field, problem.Blocks));
        Assert.Equal(
            "On every page it is more particular than no other, so it takes the place of none.",
            problem.Message
        );
    }

    [Fact]
    public void A_group_is_looked_up_and_its_own_pages_count()
    {
        var group = new PageGroup(Guid.NewGuid(), "Shop", PageRule.Parse(["/shop/**"], []));
        var context = SiteContext.Nothing with { Groups = new Dictionary<Guid, PageGroup> { [group.Id] = group } };
        IEnumerable<Problem> Problems(string[] excludes) =>
            TargetingCheck.Problems(
                Start with
                {
                    Where = new WhereFacet([], excludes, [group.Id], Replaces: true),
                },
                context,
                [],
                null
            );
        Assert.Empty(Problems([]));
        Assert.Equal("where.excludes", Assert.Single(Problems(["/shop/**"])).Field);
    }

    [Fact]
    public void What_is_over_already_says_since_when()
    {
        var moment = new CheckMoment(Now, DateTimeZone.Utc, HouseRules.Start);
        var over = On(s => s with { Until = new LocalDateTime(2015, 11, 24, 14, 0) });
        Assert.Equal(
            "It was over on 24 Nov, 14:00, so it would never show. Set a later end, or none.",
            Assert.Single(Check(over, moment)).Message
        );
        Assert.Empty(Check(On(s => s with { Until = new LocalDateTime(2015, 11, 24, 14, 1) }), moment));
    }

    [Theory]
    [InlineData(Join.All, new[] { TriggerKind.Click }, true)]
    [InlineData(Join.All, new[] { TriggerKind.Click, TriggerKind.Leaving }, false)]
    [InlineData(Join.Any, new[] { TriggerKind.Click, TriggerKind.Leaving }, true)]
    [InlineData(Join.Any, new[] { TriggerKind.Leaving }, false)]
    [InlineData(Join.All, new TriggerKind[0], false)]
    public void A_click_alone_brings_it_or_does_not(Join join, TriggerKind[] kinds, bool askable)
    {
        var when = Brief().When with { Join = join, Triggers = [.. kinds.Select(k => new Trigger(k, 0, "#more"))] };
        var compiled = Live("a", Brief() with { When = when }).Targeting;
        Assert.Equal(askable, compiled.IsAskable);
        Assert.Equal(kinds.Length == 0 ? [Trigger.After(0)] : when.Triggers, compiled.Triggers);
        Assert.False(compiled.WaitsForPages);
    }

    [Fact]
    public void A_page_group_that_is_gone_is_told_when_it_is_compiled()
    {
        var gone = Assert.Throws<FormatException>(() =>
            Live("a", Brief() with { Where = new WhereFacet([], [], [Gone], Replaces: false) })
        );
        Assert.Equal("A page group it names is gone. Choose another, or take it out.", gone.Message);
    }

    [Fact]
    public void The_share_held_back_is_the_share_asked_for_and_nobody_changes_sides()
    {
        var callout = Guid.Parse("00000000-0000-0000-0000-00000000bbbb");
        List<string> Held(int percent) =>
            [.. Enumerable.Range(0, 10_000).Select(i => $"v{i}").Where(v => Holdback.Holds(v, callout, percent))];
        Assert.Empty(Held(0));
        Assert.Equal(10_000, Held(100).Count);
        Assert.InRange(Held(30).Count, 2_850, 3_150);
        Assert.Empty(Held(10).Except(Held(30)));
        Assert.NotEqual(Held(30), [.. Enumerable.Range(0, 3_000).Select(i => $"v{i}")]);
    }

    private static EligibilityView View(
        VisitorRecord? visitor = null,
        VisitorFacts? facts = null,
        HouseRules? rules = null,
        bool isTeamThere = true,
        IReadOnlyList<PastEvent>? past = null
    ) =>
        new(
            new FactReader(visitor ?? Visitor(), facts ?? VisitorFacts.Unknown, past ?? [], Now),
            null,
            rules ?? HouseRules.Start,
            DateTimeZone.Utc,
            isTeamThere
        );

    private static Verdict Decide(Briefs.Brief brief, EligibilityView view, bool explain = true) =>
        Eligibility.Decide(Live("a", brief).Targeting, view, explain);

    [Fact]
    public void Consent_is_asked_of_those_who_have_not_given_it()
    {
        var rules = HouseRules.Start with { NeedsConsent = true };
        Assert.IsType<NoConsent>(Decide(Brief(), View(rules: rules)).Refusal);
        Assert.Null(Decide(Brief(), View(rules: rules, facts: VisitorFacts.Unknown with { Agreed = true })).Refusal);
        Assert.Null(Decide(Brief(), View()).Refusal);
    }

    [Fact]
    public void Somebody_of_the_team_is_asked_for_only_where_that_is_wanted()
    {
        var wanting = Brief() with { When = Brief().When with { OnlyIfAvailable = true } };
        Assert.IsType<NobodyAvailable>(Decide(wanting, View(isTeamThere: false)).Refusal);
        Assert.Null(Decide(wanting, View()).Refusal);
        Assert.Null(Decide(Brief(), View(isTeamThere: false)).Refusal);
    }

    [Fact]
    public void A_visitor_it_is_not_for_is_told_why_where_somebody_reads_it()
    {
        var brief = Brief() with
        {
            Who = new WhoFacet(new FactTest(VisitorFact.VisitNumber, FactComparison.AtLeast, "3"), []),
        };
        Assert.IsType<VisitorDiffers>(Decide(brief, View()).Refusal);
        Assert.IsNotType<VisitorDiffers>(Decide(brief, View(), explain: false).Refusal);
        Assert.NotNull(Decide(brief, View(), explain: false).Refusal);
    }

    [Fact]
    public void A_hush_ends_with_its_last_instant_and_that_of_dialogs_holds_dialogs_alone()
    {
        var hushed = Visitor() with { HushUntil = Now + Duration.FromSeconds(1) };
        Assert.IsType<Hushed>(Decide(Brief(), View(hushed)).Refusal);
        Assert.Null(Decide(Brief(), View(Visitor() with { HushUntil = Now })).Refusal);
        var dialogs = Visitor() with { DialogHushUntil = Now + Duration.FromSeconds(1) };
        Assert.Null(Decide(Brief(), View(dialogs)).Refusal);
        var poster = Brief() with { Look = Brief().Look with { Shape = Briefs.Shape.Poster } };
        Assert.IsType<Hushed>(Decide(poster, View(dialogs)).Refusal);
        Assert.Null(Decide(poster, View(Visitor() with { DialogHushUntil = Now })).Refusal);
    }

    [Fact]
    public void What_a_click_asks_for_is_held_back_until_it_is_asked_for()
    {
        var asked = Brief() with
        {
            When = Brief().When with { Triggers = [new Trigger(TriggerKind.Click, 0, "#more")] },
        };
        var hushed = Visitor() with { HushUntil = Now + Duration.FromHours(1) };
        var verdict = Decide(asked, View(hushed));
        Assert.Null(verdict.Refusal);
        Assert.IsType<Hushed>(verdict.UnlessAsked);
        Assert.Null(Decide(asked, View()).UnlessAsked);
    }

    [Fact]
    public void A_goal_reached_keeps_it_away_as_long_as_it_says_and_no_longer()
    {
        var goal = Guid.NewGuid();
        var brief = Brief() with
        {
            HowOften = Brief().HowOften with { Goals = [goal], AfterSuccess = new Pause(RepeatUnit.Days, 2) },
        };
        EligibilityView Did(int hoursAgo, Guid source) =>
            View(past: [new PastEvent(EventKind.SignUp, source, Now - Duration.FromHours(hoursAgo), "", "")]);
        Assert.IsType<Succeeded>(Decide(brief, Did(47, goal)).Refusal);
        Assert.Null(Decide(brief, Did(48, goal)).Refusal);
        Assert.Null(Decide(brief, Did(1, Guid.NewGuid())).Refusal);
    }

    [Fact]
    public void Pages_that_were_looked_at_leave_the_rest_to_wait_for()
    {
        var (second, fifth) = (new Trigger(TriggerKind.Pages, 2), new Trigger(TriggerKind.Pages, 5));
        var scroll = new Trigger(TriggerKind.Scroll, 50);
        var visitor = Visitor().Arrive(Now);
        (Trigger? Missing, IReadOnlyList<Trigger> Left) Meet(Join join, params Trigger[] triggers)
        {
            var target = Live("a", Brief() with { When = Brief().When with { Join = join, Triggers = triggers } });
            return (Eligibility.PagesMet(target.Targeting, visitor, out var left), left);
        }
        Assert.Equal(2, visitor.Visit.Pages);
        Assert.Equal((null, 1), (Meet(Join.All, second, scroll).Missing, Meet(Join.All, second, scroll).Left.Count));
        Assert.Equal(fifth, Meet(Join.All, second, fifth, scroll).Missing);
        Assert.Null(Meet(Join.Any, second, fifth, scroll).Missing);
        Assert.Empty(Meet(Join.Any, second, fifth, scroll).Left);
        Assert.Null(Meet(Join.Any, fifth, scroll).Missing);
        Assert.Equal([scroll], Meet(Join.Any, fifth, scroll).Left);
        Assert.Equal(fifth, Meet(Join.Any, fifth).Missing);
    }
}
