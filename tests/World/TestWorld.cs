using Microsoft.AspNetCore.Identity;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Server.Intake;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Tests.World;

/// <summary>What the tests of the desk stand on: a pottery with two members and one site, of which every part is asked for by a test.</summary>
/// <remarks>It is no copy of the demo's data, which may change without a test being asked.</remarks>
internal sealed class TestWorld(string siteAddress, Instant start)
{
    public const string OwnerEmail = "marta@emberwick.example";
    public const string EditorEmail = "teo@emberwick.example";
    public const string Password = "kiln-opens-at-nine";

    public WorkspaceRow Workspace { get; } =
        new()
        {
            Name = "Emberwick Pottery",
            CreatedAt = start,
            // One person may publish.
            Habits = HouseHabits.Start with
            {
                Review = ReviewHabit.Nothing,
            },
        };

    public SiteRow Site { get; private set; } = null!;

    /// <summary>Purchases, each signed by who sends it.</summary>
    public SourceRow Checkout { get; private set; } = null!;

    /// <summary>Sign-ups by the form on every page of the shop.</summary>
    public SourceRow Newsletter { get; private set; } = null!;

    /// <summary>Enquiries by a form of which one field may be shown.</summary>
    public SourceRow Quote { get; private set; } = null!;

    /// <summary>Stock levels in a sender's own JSON.</summary>
    public SourceRow Stock { get; private set; } = null!;

    public async Task WriteAsync(OutcryDb db, UserManager<Member> members)
    {
        db.Workspaces.Add(Workspace);
        Site = new SiteRow
        {
            WorkspaceId = Workspace.Id,
            Name = "Emberwick Pottery",
            Key = $"{Guid.NewGuid():N}"[..16],
            HomeAddress = siteAddress + "/",
            AllowedHosts = [new Uri(siteAddress).Authority],
            TestHosts = ["preview.emberwick.example"],
            TimeZone = "Europe/London",
            Rules = HouseRules.Start with { QuietPages = ["/cart", "/checkout/**"] },
            Words = WordChoice.Start with { Added = ["grotbag"] },
            CreatedAt = start,
        };
        db.Sites.Add(Site);
        AddSources(db);
        AddGroups(db);
        await db.SaveChangesAsync();
        await AddMemberAsync(db, members, OwnerEmail, "Marta Quill", Role.Owner);
        await AddMemberAsync(db, members, EditorEmail, "Teo Brandt", Role.Editor);
    }

    private void AddSources(OutcryDb db)
    {
        Checkout = Source("Checkout", SourceKind.SignedWebhook, EventKind.Purchase);
        Checkout.Secret = StandardWebhooks.NewSecret();
        Newsletter = Source("Newsletter", SourceKind.SiteForm, EventKind.SignUp);
        Newsletter.Form = new FormMapping("newsletter", [], "first_name", null, "email", null, []);
        Quote = Source("Quote form", SourceKind.SiteForm, EventKind.Enquiry);
        Quote.Form = new FormMapping("quote", ["/quote"], "name", null, "email", "piece", ["pieces"]);
        Quote.Display = DisplayPolicy.Start with { ShownFields = ["pieces"] };
        Stock = Source("Stock levels", SourceKind.SignedWebhook, EventKind.StockLevel);
        Stock.Secret = StandardWebhooks.NewSecret();
        Stock.Map = Map(
            EventKind.StockLevel,
            (FieldMeaning.Time, "/change/at"),
            (FieldMeaning.Product, "/item/title"),
            (FieldMeaning.ProductAddress, "/item/page"),
            (FieldMeaning.Left, "/levels/0/on_hand")
        );
        var baskets = Source("Baskets", SourceKind.PageScript, EventKind.BasketAddition);
        baskets.Script = ScriptRules.Start with { BasketSelector = "form[action=\"/cart\"] button" };
        var reminders = Source("Firing reminders", SourceKind.PageScript, EventKind.Own);
        reminders.Script = ScriptRules.Start with { Names = ["firing_reminder"] };
        reminders.Display = DisplayPolicy.For(EventKind.Own) with { ShownFields = [EventFields.Event, "firing"] };
        var reviews = Source("Review list", SourceKind.ReviewList, EventKind.Review);
        reviews.Poll = new Polling($"{siteAddress}/outside/reviews.json", PollFormat.Json, "/data/reviews", 60, 100);
        reviews.Map = Map(
            EventKind.Review,
            (FieldMeaning.Id, "/id"),
            (FieldMeaning.Time, "/created"),
            (FieldMeaning.FirstName, "/author"),
            (FieldMeaning.Stars, "/rating"),
            (FieldMeaning.Words, "/text"),
            (FieldMeaning.Product, "/item")
        );
        var journal = Source("Journal feed", SourceKind.Feed, EventKind.Post);
        journal.Poll = new Polling($"{siteAddress}/journal/feed.atom", PollFormat.Feed, "", 60, 5);
        db.Sources.AddRange(Checkout, Newsletter, Quote, Stock, baskets, reminders, reviews, journal);
    }

    private static EventMap Map(EventKind kind, params (FieldMeaning Meaning, string At)[] fields) =>
        new(kind, fields.ToDictionary(f => f.Meaning, f => f.At), new Dictionary<string, string>());

    private SourceRow Source(string name, SourceKind kind, EventKind eventKind) =>
        new()
        {
            WorkspaceId = Workspace.Id,
            SiteId = Site.Id,
            Name = name,
            Kind = kind,
            EventKind = eventKind,
            Display = DisplayPolicy.For(eventKind),
            CreatedAt = start,
        };

    private void AddGroups(OutcryDb db)
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
        db.PageGroups.AddRange(
            groups.Select(
                (g, i) =>
                    new PageGroupRow
                    {
                        WorkspaceId = Workspace.Id,
                        SiteId = Site.Id,
                        Name = g.Name,
                        Includes = [.. g.Patterns],
                        Position = i,
                    }
            )
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
                JoinedAt = start,
            }
        );
        await db.SaveChangesAsync();
    }
}
