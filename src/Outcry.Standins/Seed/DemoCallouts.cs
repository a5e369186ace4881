using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Standins.Seed;

// Its callouts: one of every kind and shape, some for everybody, some for certain visitors.
internal sealed partial class Definitions
{
    /// <summary>The callouts, with the day of the past on which each went live.</summary>
    public IEnumerable<(DefinitionRow Row, int? LiveFromDay, DefinitionState EndsAs)> Callouts()
    {
        var bought = Moment(EventKind.Purchase, Checkout, "{{ name | default: someone }}");
        yield return (
            Row(
                "Bought a piece",
                bought with
                {
                    Say = Words(
                        bought,
                        "**{{ name | default: someone }}** {{ from_place }} took home **{{ product | default: \"a piece\" }}**"
                    ),
                    Where = On(["/", "/shop", "/shop/*"], []),
                    From = bought.From with
                    {
                        Conditions = [new FieldCondition("category", Comparison.IsNot, "Workshops")],
                    },
                    When = After(6, 3, 12),
                }
            ),
            1,
            DefinitionState.Live
        );
        var booked = Moment(EventKind.Booking, Checkout, "{{ name | default: someone }}");
        yield return (
            Row(
                "Booked a place",
                booked with
                {
                    Say = Words(
                        booked,
                        "**{{ name | default: someone }}** {{ from_place }} will be at **{{ product | default: \"one of our workshops\" }}**"
                    ),
                    Where = On(["/workshops/**", "/journal/first-hour-*"], []),
                    From = booked.From with
                    {
                        Conditions = [new FieldCondition("category", Comparison.Is, "Workshops")],
                        WindowMinutes = 14 * 24 * 60,
                    },
                    When = After(8, 2, 15),
                }
            ),
            4,
            DefinitionState.Live
        );
        var kits = Moment(EventKind.Purchase, Checkout, "");
        yield return (
            Row(
                "A kit went out",
                kits with
                {
                    Say = kits.Say with
                    {
                        Message =
                            "A **{{ product | default: \"kit\" }}** went out {{ from_place | replace: \"from\", \"to\" }}",
                        Link = LinkTarget.Address,
                        LinkAddress = "/shop/first-pot-kit",
                    },
                    From = kits.From with { Conditions = [new FieldCondition("category", Comparison.Is, "Kits")] },
                    Where = On(["/shop/*"], []),
                    When = After(4, 1, 12),
                    Look = kits.Look with { Side = Side.Right, Band = "#1F2D28", Ground = "#E2ECE5", StaySeconds = 30 },
                    HowOften = Every(RepeatUnit.Days, 3, 4, 24),
                    Priority = 3,
                }
            ),
            9,
            DefinitionState.Live
        );
        var letters = Moment(EventKind.SignUp, Newsletter, "");
        yield return (
            Row(
                "Joined the letters",
                letters with
                {
                    Say = Words(letters, "**{{ name | default: someone }}** reads our kiln letters now") with
                    {
                        Picture = SayPicture.Initials,
                        Link = LinkTarget.None,
                    },
                    Where = On(["/journal/**"], ["/journal/first-hour-*"]),
                    When = After(20, 1, 12),
                    HowOften = Every(RepeatUnit.Days, 7, null, 48),
                }
            ),
            12,
            DefinitionState.Live
        );
        var quotes = Moment(EventKind.Enquiry, Quote, "");
        yield return (
            Row(
                "Asked for a commission",
                quotes with
                {
                    Say = quotes.Say with
                    {
                        Message =
                            "**{{ name | default: someone }}** asked for **{{ pieces }}** pieces: {{ product | downcase | default: \"a commission\" }}",
                        Picture = SayPicture.Initials,
                        Link = LinkTarget.Address,
                        LinkAddress = "/quote",
                    },
                    Where = On(["/quote", "/shop"], []),
                    From = quotes.From with { WindowMinutes = 30 * 24 * 60 },
                    When = After(25, 1, 12),
                }
            ),
            15,
            DefinitionState.Paused
        );
        foreach (var other in OtherKinds().Concat(ForSome()))
            yield return other;
        var dear = Moment(EventKind.Purchase, Checkout, "{{ first_name | default: someone }}");
        yield return (
            Row(
                "The larger pieces",
                dear with
                {
                    From = dear.From with
                    {
                        Conditions =
                        [
                            new FieldCondition("amount", Comparison.Greater, "50"),
                            new FieldCondition("category", Comparison.IsNot, "Workshops"),
                        ],
                        LeastNumber = 5,
                    },
                    Where = On(["/shop/**"], []),
                    HowOften = Every(RepeatUnit.Days, 7, null, 24),
                }
            ),
            null,
            DefinitionState.Draft
        );
    }

    // One of every other kind, each in a shape that suits it.
    private IEnumerable<(DefinitionRow Row, int? LiveFromDay, DefinitionState EndsAs)> OtherKinds()
    {
        var booked = StarterBrief.For(CalloutKind.Tally, EventKind.Booking, [Checkout.Id]);
        yield return (
            Row(
                "How many booked",
                booked with
                {
                    Say = Words(
                        booked,
                        "**{{ number }}** {{ number | plural: one: \"person has\", other: \"people have\" }} booked a workshop {{ period }}"
                    ) with
                    {
                        Link = LinkTarget.Address,
                        LinkAddress = "/workshops",
                        Translations =
                        [
                            new Wording(
                                "de",
                                "**{{ number }}** {{ number | plural: one: \"Mensch hat\", other: \"Menschen haben\" }} {{ period }} einen Platz gebucht",
                                "",
                                ""
                            ),
                        ],
                    },
                    From = booked.From with
                    {
                        WindowMinutes = 30 * 24 * 60,
                        Conditions = [new FieldCondition("category", Comparison.Is, "Workshops")],
                    },
                    Where = On(["/workshops"], []),
                    When = After(3, 1, 12),
                    Look = booked.Look with { Shape = Shape.Ribbon, Edge = Edge.Top, StaySeconds = 20 },
                    Priority = 6,
                }
            ),
            1,
            DefinitionState.Live
        );
        var left = StarterBrief.For(CalloutKind.Remainder, EventKind.StockLevel, [Stock.Id]);
        yield return (
            Row(
                "Nearly gone",
                left with
                {
                    Say = Words(
                        left,
                        "Only **{{ left }}** of **{{ product | default: \"this piece\" }}** left on the shelf"
                    ) with
                    {
                        Picture = SayPicture.None,
                        Link = LinkTarget.None,
                    },
                    From = left.From with { OfThisPage = true, MostLeft = 8 },
                    Where = On(["/shop/*"], []),
                    When = After(1, 1, 12),
                    HowOften = Every(RepeatUnit.PageView, 1, null, 24),
                    Look = left.Look with
                    {
                        Shape = Shape.Inset,
                        Anchor = ".price",
                        StaySeconds = null,
                        CloseMark = false,
                    },
                    Priority = 7,
                }
            ),
            1,
            DefinitionState.Live
        );
        var quote = StarterBrief.For(CalloutKind.Quote, EventKind.Review, [Reviews.Id]);
        yield return (
            Row(
                "What people say",
                quote with
                {
                    Say = Words(quote, "“{{ words }}” **{{ name | default: someone }}**, {{ stars }} of 5 stars"),
                    Where = On(["/studio"], []),
                    When = After(5, 1, 12),
                    Look = quote.Look with { Shape = Shape.Drawer, Side = Side.Right, StaySeconds = 15 },
                    Priority = 6,
                }
            ),
            1,
            DefinitionState.Live
        );
        var standing = StarterBrief.For(CalloutKind.Standing, EventKind.Total, [Followers.Id]);
        yield return (
            Row(
                "Where we stand",
                standing with
                {
                    Say = Words(
                        standing,
                        "**{{ total }}** {{ of | default: \"people\" }} watch what leaves the kiln"
                    ) with
                    {
                        Number = NumberStyle.Rounded,
                    },
                    From = standing.From with { LeastNumber = 1000 },
                    Where = On(["/"], []),
                    When = After(30, 1, 12),
                    Look = standing.Look with { Shape = Shape.Crawl, Band = "#1F2D28", Ground = "#E2ECE5" },
                    Priority = 8,
                }
            ),
            1,
            DefinitionState.Live
        );
        var here = StarterBrief.For(CalloutKind.Headcount, EventKind.Own, []);
        yield return (
            Row(
                "Here now",
                here with
                {
                    Say = Words(
                        here,
                        "**{{ number }}** {{ number | plural: one: \"person is\", other: \"people are\" }} at the shelves right now"
                    ),
                    Where = On(["/shop"], []),
                    When = After(40, 1, 12),
                    Look = here.Look with { Side = Side.Right },
                    Priority = 9,
                }
            ),
            1,
            DefinitionState.Live
        );
        var notice = StarterBrief.For(CalloutKind.Notice, EventKind.Own, []);
        yield return (
            Row(
                "Kiln opening",
                notice with
                {
                    Say = notice.Say with
                    {
                        Message = "**The kiln opens** in {{ countdown }}",
                        Detail = "Come and see what three days of fire made. With this code the first mug is ours.",
                        Button = "Save me a place",
                        Link = LinkTarget.Address,
                        LinkAddress = "/workshops",
                        Campaign = "kiln-opening",
                        Code = "KILN-OPENS",
                        Picture = SayPicture.None,
                    },
                    Where = On(["/journal/**"], []),
                    When = After(0, 1, 12) with
                    {
                        Triggers = [new Trigger(TriggerKind.Scroll, 60), new Trigger(TriggerKind.Leaving)],
                        Join = Join.Any,
                        Schedule = Schedule.Always with { EventStarts = OpeningDay },
                    },
                    HowOften = Every(RepeatUnit.Weeks, 1, 3, 24),
                    Look = notice.Look with { Shape = Shape.Poster, StaySeconds = null },
                    Priority = 4,
                }
            ),
            1,
            DefinitionState.Live
        );
    }

    // Those that are for certain visitors only: who came back, and who came by a letter.
    private IEnumerable<(DefinitionRow Row, int? LiveFromDay, DefinitionState EndsAs)> ForSome()
    {
        var back = StarterBrief.For(CalloutKind.Notice, EventKind.Own, []);
        yield return (
            Row(
                "Welcome back",
                back with
                {
                    Say = Words(back, "**Good to see you again.** What you looked at last is still on the shelf.") with
                    {
                        Link = LinkTarget.Address,
                        LinkAddress = "/shop",
                        Picture = SayPicture.None,
                    },
                    Who = back.Who with { Rule = new InSegment(BackWithoutBuying) },
                    Where = On(["/", "/studio"], []),
                    When = After(10, 1, 12),
                    HowOften = Every(RepeatUnit.Weeks, 1, null, 24),
                    Look = back.Look with { Shape = Shape.Slip, Side = Side.Right, StaySeconds = 12 },
                    Priority = 2,
                }
            ),
            6,
            DefinitionState.Live
        );
        var letter = StarterBrief.For(CalloutKind.Notice, EventKind.Own, []);
        yield return (
            Row(
                "From the letter",
                letter with
                {
                    Say = Words(
                        letter,
                        "**You came by our letter.** The glaze sampler in it is set aside for you."
                    ) with
                    {
                        Button = "See the sampler",
                        Link = LinkTarget.Address,
                        LinkAddress = "/shop/glaze-sampler-kit",
                        Picture = SayPicture.None,
                    },
                    Who = letter.Who with
                    {
                        Rule = new FactTest(VisitorFact.Campaign, FactComparison.Is, "email", "medium"),
                    },
                    Where = On(["/", "/shop", "/journal/**"], []),
                    When = After(2, 1, 12),
                    HowOften = Every(RepeatUnit.Days, 1, null, 24),
                    Look = letter.Look with { Shape = Shape.Ribbon, Edge = Edge.Top, StaySeconds = 15 },
                    Priority = 2,
                }
            ),
            8,
            DefinitionState.Live
        );
    }

    private Guid BackWithoutBuying { get; set; }

    private static SayFacet Words(Brief brief, string message) => brief.Say with { Message = message };

    /// <summary>Ten days from when the demo is made, at ten in the morning.</summary>
    private static LocalDateTime OpeningDay =>
        SystemClock.Instance.GetCurrentInstant().InUtc().Date.PlusDays(10).At(new LocalTime(10, 0));

    private static Brief Moment(EventKind kind, SourceRow source, string subject)
    {
        var starter = StarterBrief.Moment(kind, [source.Id]);
        return subject.Length == 0
            ? starter
            : starter with
            {
                Say = starter.Say with
                {
                    Message = starter.Say.Message.Replace(
                        "{{ name | default: someone }}",
                        subject,
                        StringComparison.Ordinal
                    ),
                },
            };
    }

    private static WhereFacet On(string[] includes, string[] excludes) => new(includes, excludes, [], Replaces: false);

    private static WhenFacet After(int seconds, int turns, int turnGapSeconds) =>
        new([Trigger.After(seconds)], Join.All, turns, turnGapSeconds, 1, Schedule.Always, OnlyIfAvailable: false);

    private static HowOftenFacet Every(RepeatUnit unit, int every, int? mostVisits, int hushHours) =>
        new(unit, every, mostVisits, null, UntilClicked: false, hushHours, Pause.None, [], Pause.ForEver);

    private DefinitionRow Row(string name, Brief brief) =>
        new()
        {
            WorkspaceId = Workspace.Id,
            SiteId = Site.Id,
            Name = name,
            State = DefinitionState.Draft,
            Kind = BriefKind.Callout,
            Draft = KeptContent.Of(
                // The pottery's own oxide where no other colour was chosen.
                brief.Look.Band == StarterBrief.Band
                    ? brief with
                    {
                        Look = brief.Look with { Band = "#9C3517" },
                    }
                    : brief
            ),
            DraftVersion = 1,
            CreatedAt = start,
            ChangedAt = start,
            ChangedBy = "Teo Brandt",
        };
}
