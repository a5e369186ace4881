using System.Security.Cryptography;
using Microsoft.AspNetCore.Identity;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Server.Intake;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Standins.Seed;

/// <summary>The demo workspace: members, site, sources, page groups and callouts.</summary>
internal sealed class Definitions(string siteAddress, Instant start)
{
    public const string OwnerEmail = "marta@emberwick.example";
    public const string EditorEmail = "teo@emberwick.example";
    public const string Password = "kiln-opens-at-nine";

    public WorkspaceRow Workspace { get; } = new() { Name = "Emberwick Pottery", CreatedAt = start };

    public SiteRow Site { get; private set; } = null!;

    public SourceRow Checkout { get; private set; } = null!;

    public SourceRow Newsletter { get; private set; } = null!;

    public SourceRow Quote { get; private set; } = null!;

    public SourceRow Stock { get; private set; } = null!;
    public SourceRow Reviews { get; private set; } = null!;
    public SourceRow Followers { get; private set; } = null!;

    public SourceRow Waitlist { get; private set; } = null!;

    public SourceRow KindWords { get; private set; } = null!;

    /// <summary>What stands where in the shop platform's own JSON of stock levels.</summary>
    public static EventMap StockMap { get; } =
        new(
            EventKind.StockLevel,
            new Dictionary<FieldMeaning, string>
            {
                [FieldMeaning.Time] = "/change/at",
                [FieldMeaning.Product] = "/item/title",
                [FieldMeaning.ProductAddress] = "/item/page",
                [FieldMeaning.Left] = "/levels/0/on_hand",
            },
            new Dictionary<string, string>()
        );

    public async Task WriteAsync(OutcryDb db, UserManager<Member> members)
    {
        db.Workspaces.Add(Workspace);
        Site = new SiteRow
        {
            WorkspaceId = Workspace.Id,
            Name = "Emberwick Pottery",
            Key = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(8)),
            HomeAddress = siteAddress + "/",
            AllowedHosts = [new Uri(siteAddress).Authority],
            TimeZone = "Europe/London",
            Rules = HouseRules.Start with { QuietPages = ["/cart", "/checkout/**"] },
            TestHosts = ["preview.emberwick.example"],
            Words = WordChoice.Start with { Added = ["grotbag"] },
            CreatedAt = start,
        };
        db.Sites.Add(Site);
        Checkout = Source("Checkout", SourceKind.SignedWebhook, EventKind.Purchase, null);
        Checkout.Secret = StandardWebhooks.NewSecret();
        Newsletter = Source(
            "Newsletter",
            SourceKind.SiteForm,
            EventKind.SignUp,
            new FormMapping("newsletter", [], "first_name", null, "email", null, [])
        );
        Quote = Source(
            "Quote form",
            SourceKind.SiteForm,
            EventKind.Enquiry,
            new FormMapping("quote", ["/quote"], "name", null, "email", "piece", ["pieces"])
        );
        Quote.Display = DisplayPolicy.Start with { ShownFields = ["pieces"] };
        db.Sources.AddRange(Checkout, Newsletter, Quote);
        db.Sources.AddRange(More());
        db.PageGroups.AddRange(Groups());
        db.Segments.AddRange(Segments.Of(Site, start));
        await db.SaveChangesAsync();
        await AddMemberAsync(db, members, OwnerEmail, "Marta Quill", Role.Owner);
        await AddMemberAsync(db, members, EditorEmail, "Teo Brandt", Role.Editor);
    }

    // Every other way in, each with its own sort of event.
    private IEnumerable<SourceRow> More()
    {
        Stock = Source("Stock levels", SourceKind.SignedWebhook, EventKind.StockLevel, null);
        Stock.Secret = StandardWebhooks.NewSecret();
        Stock.Map = StockMap;
        yield return Stock;
        var baskets = Source("Baskets", SourceKind.PageScript, EventKind.BasketAddition, null);
        baskets.Script = ScriptRules.Start with { BasketSelector = "form[action=\"/cart\"] button" };
        yield return baskets;
        var reminders = Source("Firing reminders", SourceKind.PageScript, EventKind.Own, null);
        reminders.Script = ScriptRules.Start with { Names = ["firing_reminder"] };
        reminders.Display = DisplayPolicy.For(EventKind.Own) with { ShownFields = [EventFields.Event, "firing"] };
        yield return reminders;
        var reviews = Source("Review list", SourceKind.ReviewList, EventKind.Review, null);
        reviews.Poll = new Polling($"{siteAddress}/outside/reviews.json", PollFormat.Json, "/data/reviews", 60, 100);
        reviews.Map = new EventMap(
            EventKind.Review,
            new Dictionary<FieldMeaning, string>
            {
                [FieldMeaning.Id] = "/id",
                [FieldMeaning.Time] = "/created",
                [FieldMeaning.FirstName] = "/author",
                [FieldMeaning.Stars] = "/rating",
                [FieldMeaning.Words] = "/text",
                [FieldMeaning.Product] = "/item",
            },
            new Dictionary<string, string>()
        );
        reviews.Rules = SourceRules.Open with { LeastStars = 4 };
        Reviews = reviews;
        yield return reviews;
        var followers = Source("Followers", SourceKind.ProfileTotals, EventKind.Total, null);
        followers.Poll = new Polling($"{siteAddress}/outside/profile.json", PollFormat.Json, "", 240, 1, "followers");
        followers.Map = new EventMap(
            EventKind.Total,
            new Dictionary<FieldMeaning, string> { [FieldMeaning.Total] = "/profile/followers" },
            new Dictionary<string, string>()
        );
        Followers = followers;
        yield return followers;
        var journal = Source("Journal feed", SourceKind.Feed, EventKind.Post, null);
        journal.Poll = new Polling($"{siteAddress}/journal/feed.atom", PollFormat.Feed, "", 60, 5);
        yield return journal;
        Waitlist = Source("Spring waitlist", SourceKind.FileImport, EventKind.SignUp, null);
        yield return Waitlist;
        KindWords = Source("Kind words", SourceKind.ByHand, EventKind.Endorsement, null);
        yield return KindWords;
    }

    /// <summary>The callouts, with the day of the past on which each went live.</summary>
    public IEnumerable<(DefinitionRow Row, int? LiveFromDay, DefinitionState EndsAs)> Callouts()
    {
        var bought = Moment(EventKind.Purchase, Checkout, "{{ name | default: someone }}");
        yield return (
            Row(
                "Bought a piece",
                bought with
                {
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
                    Say = letters.Say with { Picture = SayPicture.Initials, Link = LinkTarget.None },
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
        foreach (var other in OtherKinds())
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
                    Say = booked.Say with
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
                    Say = left.Say with { Picture = SayPicture.None, Link = LinkTarget.None },
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
                    Say = standing.Say with { Number = NumberStyle.Rounded },
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
            Draft = KeptContent.Of(brief),
            DraftVersion = 1,
            CreatedAt = start,
            ChangedAt = start,
            ChangedBy = "Teo Brandt",
        };

    private SourceRow Source(string name, SourceKind kind, EventKind eventKind, FormMapping? form) =>
        new()
        {
            WorkspaceId = Workspace.Id,
            SiteId = Site.Id,
            Name = name,
            Kind = kind,
            EventKind = eventKind,
            Form = form,
            Display = DisplayPolicy.For(eventKind),
            CreatedAt = start,
        };

    private IEnumerable<PageGroupRow> Groups()
    {
        var groups = new (string Name, string[] Patterns)[]
        {
            ("Home", ["/"]),
            ("Shop", ["/shop"]),
            ("Product pages", ["/shop/*"]),
            ("Workshops", ["/workshops/**"]),
            ("Journal", ["/journal/**"]),
            ("Checkout", ["/cart", "/checkout/**"]),
        };
        return groups.Select(
            (g, i) =>
                new PageGroupRow
                {
                    WorkspaceId = Workspace.Id,
                    SiteId = Site.Id,
                    Name = g.Name,
                    Includes = [.. g.Patterns],
                    Position = i,
                }
        );
    }

    private async Task AddMemberAsync(OutcryDb db, UserManager<Member> members, string email, string name, Role role)
    {
        var member = new Member
        {
            Id = Guid.CreateVersion7(),
            UserName = email,
            Email = email,
            EmailConfirmed = true,
            DisplayName = name,
        };
        var made = await members.CreateAsync(member, Password);
        if (!made.Succeeded)
            throw new InvalidOperationException(string.Join(" ", made.Errors.Select(e => e.Description)));
        db.Memberships.Add(
            new MembershipRow
            {
                WorkspaceId = Workspace.Id,
                MemberId = member.Id,
                Role = role,
            }
        );
        await db.SaveChangesAsync();
    }
}
