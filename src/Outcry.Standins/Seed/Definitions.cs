using System.Security.Cryptography;
using Microsoft.AspNetCore.Identity;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using Outcry.Server.Intake;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Standins.Seed;

/// <summary>The demo workspace: members, site, sources, page groups and callouts.</summary>
internal sealed partial class Definitions(string siteAddress, Instant start)
{
    public const string OwnerEmail = "marta@emberwick.example";
    public const string EditorEmail = "teo@emberwick.example";
    public const string Password = "kiln-opens-at-nine";

    public WorkspaceRow Workspace { get; } =
        new()
        {
            Name = "Emberwick Pottery",
            CreatedAt = start,
            // As long as two people run it.
            Habits = HouseHabits.Start with
            {
                Review = ReviewHabit.Nothing,
            },
        };

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
        var segments = Segments.Of(Site, start).ToList();
        BackWithoutBuying = segments.Single(r => r.Name == "Back, bought nothing").Id;
        db.Segments.AddRange(segments);
        await db.SaveChangesAsync();
        await AddMemberAsync(db, members, OwnerEmail, "Marta Quill", Role.Owner);
        await AddMemberAsync(db, members, EditorEmail, "Teo Brandt", Role.Editor, 1);
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

    internal async Task AddMemberAsync(
        OutcryDb db,
        UserManager<Member> members,
        string email,
        string name,
        Role role,
        int daysLater = 0
    )
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
                JoinedAt = start + Duration.FromDays(daysLater),
            }
        );
        await db.SaveChangesAsync();
    }
}
