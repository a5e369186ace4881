using System.Security.Cryptography;
using Microsoft.AspNetCore.Identity;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Planning;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
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

    public SourceRow Waitlist { get; private set; } = null!;

    public SourceRow KindWords { get; private set; } = null!;

    /// <summary>What stands where in the shop platform's own JSON of stock levels.</summary>
    public static EventMap StockMap { get; } =
        new(
            EventKind.StockLevel,
            new Dictionary<Meaning, string>
            {
                [Meaning.Time] = "/change/at",
                [Meaning.Product] = "/item/title",
                [Meaning.ProductAddress] = "/item/page",
                [Meaning.Left] = "/levels/0/on_hand",
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
            SigningKey = RandomNumberGenerator.GetBytes(32),
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
            new Dictionary<Meaning, string>
            {
                [Meaning.Id] = "/id",
                [Meaning.Time] = "/created",
                [Meaning.FirstName] = "/author",
                [Meaning.Stars] = "/rating",
                [Meaning.Words] = "/text",
                [Meaning.Product] = "/item",
            },
            new Dictionary<string, string>()
        );
        reviews.Rules = SourceRules.Open with { LeastStars = 4 };
        yield return reviews;
        var followers = Source("Followers", SourceKind.ProfileTotals, EventKind.Total, null);
        followers.Poll = new Polling($"{siteAddress}/outside/profile.json", PollFormat.Json, "", 240, 1, "followers");
        followers.Map = new EventMap(
            EventKind.Total,
            new Dictionary<Meaning, string> { [Meaning.Total] = "/profile/followers" },
            new Dictionary<string, string>()
        );
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
    public IEnumerable<(CalloutRow Row, int? LiveFromDay, CalloutState EndsAs)> Callouts()
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
            CalloutState.Live
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
            CalloutState.Live
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
            CalloutState.Live
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
            CalloutState.Live
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
            CalloutState.Paused
        );
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
            CalloutState.Draft
        );
    }

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

    private CalloutRow Row(string name, Brief brief) =>
        new()
        {
            WorkspaceId = Workspace.Id,
            SiteId = Site.Id,
            Name = name,
            State = CalloutState.Draft,
            Draft = brief,
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
