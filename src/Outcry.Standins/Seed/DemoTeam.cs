using System.Security.Cryptography;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Briefs;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Standins.Seed;

/// <summary>The studio's people besides the two who began, who is invited, and what was done in the month.</summary>
internal sealed class DemoTeam(IServiceProvider services, Definitions definitions, Instant now)
{
    public const string PublisherEmail = "ines@emberwick.example";
    public const string ResponderEmail = "jonas@emberwick.example";

    private const string Owner = "Marta Quill";
    private const string Editor = "Teo Brandt";
    private const string Publisher = "Ines Okoro";

    public async Task AddAsync()
    {
        await using var scope = services.CreateAsyncScope();
        await using var db = services.GetRequiredService<SystemDb>().Open();
        var members = scope.ServiceProvider.GetRequiredService<UserManager<Member>>();
        await definitions.AddMemberAsync(db, members, PublisherEmail, Publisher, Role.Publisher, 8);
        await definitions.AddMemberAsync(db, members, ResponderEmail, "Jonas Hale", Role.Responder, 15);
        db.Invitations.Add(
            new InvitationRow
            {
                WorkspaceId = definitions.Workspace.Id,
                Email = "rosa@emberwick.example",
                Role = Role.Viewer,
                // Nobody has its link.
                Hash = RandomNumberGenerator.GetBytes(32),
                InvitedBy = Owner,
                InvitedAt = now - Duration.FromDays(2),
                EndsAt = now + Duration.FromDays(5),
            }
        );
        var workspace = await db.Workspaces.SingleAsync(w => w.Id == definitions.Workspace.Id);
        workspace.Habits = HouseHabits.Start with { AwayHours = 12 };
        var site = await db.Sites.SingleAsync(s => s.Id == definitions.Site.Id);
        site.Kit = new BrandKit("#9C3517", "#FFFFFF", OnRight: true, StaySeconds: 9, Typeface.Page)
        {
            Tones =
            [
                new Tone("en", "“you”, as over the counter; no exclamation marks"),
                new Tone("nl", "“je”, and first names"),
            ],
        };
        await AddTracesAsync(db);
        await AskAsync(
            db,
            "How many booked",
            b => b with { HowOften = b.HowOften with { MostPerWeek = 2 } },
            of: null,
            "Closes rise from the third showing in a week.",
            now - Duration.FromHours(3)
        );
        var promise = await AskAsync(
            db,
            "Kiln opening",
            b => b with { Say = b.Say with { Message = $"{b.Say.Message}. Every guest takes a mug home" } },
            of: Publisher,
            "Is the promise sound?",
            now - Duration.FromMinutes(95)
        );
        promise.Notes =
        [
            new ReviewNote(
                "say",
                "Better. Say who makes it: \"a mug of our own\".",
                Publisher,
                now - Duration.FromMinutes(40)
            ),
        ];
        await db.SaveChangesAsync();
    }

    // The editor has changed a live callout's draft and asks for a second look at it.
    private static async Task<ReviewRow> AskAsync(
        OutcryDb db,
        string name,
        Func<Brief, Brief> change,
        string? of,
        string sentence,
        Instant at
    )
    {
        var row = await db.Definitions.SingleAsync(d => d.Name == name && d.Kind == BriefKind.Callout);
        var editor = await db.Users.SingleAsync(u => u.DisplayName == Editor);
        row.Draft = KeptContent.Of(change(row.Draft.Read<Brief>()));
        (row.DraftVersion, row.ChangedAt, row.ChangedBy) = (row.DraftVersion + 1, at, Editor);
        row.Authors = [editor.Id];
        var asked = new ReviewRow
        {
            WorkspaceId = row.WorkspaceId,
            SiteId = row.SiteId,
            DefinitionId = row.Id,
            State = ReviewState.Asked,
            AskedById = editor.Id,
            AskedBy = Editor,
            OfId = of is null ? null : (await db.Users.SingleAsync(u => u.DisplayName == of)).Id,
            Sentence = sentence,
            AskedAt = at,
        };
        db.Reviews.Add(asked);
        return asked;
    }

    private async Task AddTracesAsync(OutcryDb db)
    {
        var ids = await db
            .Users.Where(u => u.DisplayName == Owner || u.DisplayName == Editor || u.DisplayName == Publisher)
            .ToDictionaryAsync(u => u.DisplayName, u => u.Id);
        var published = await db
            .Revisions.Join(db.Definitions, r => r.DefinitionId, d => d.Id, (r, d) => new { r.PublishedAt, Row = d })
            .ToListAsync();
        foreach (var each in published)
            Add(ids, each.PublishedAt, Owner, "published", each.Row.Name, link: $"{each.Row.Kind}/{each.Row.Id}");
        foreach (var row in await db.Definitions.Where(d => d.State == DefinitionState.Paused).ToListAsync())
            Add(ids, row.ChangedAt, Publisher, "paused", row.Name, link: $"{row.Kind}/{row.Id}");
        Add(ids, now - Duration.FromDays(2), Owner, "invited", "rosa@emberwick.example", new("role", "", "Viewer"));
        Add(
            ids,
            now - Duration.FromHours(27),
            Publisher,
            "changed the house rules of",
            definitions.Site.Name,
            new("max per visit", "4", "3")
        );
        Add(ids, now - Duration.FromHours(5), Publisher, "paused the source", "Supplies feed");
        Add(ids, now - Duration.FromHours(4), Publisher, "resumed the source", "Supplies feed");
        Add(
            ids,
            now - Duration.FromMinutes(80),
            Editor,
            "changed the page group",
            "Workshops",
            new("includes", "/workshops", "/workshops/**")
        );
        Add(
            ids,
            now - Duration.FromMinutes(34),
            Owner,
            "changed the role of",
            "Jonas Hale",
            new("role", "Viewer", "Responder")
        );

        void Add(
            Dictionary<string, Guid> who,
            Instant at,
            string by,
            string act,
            string subject,
            TracedChange? change = null,
            string link = ""
        ) =>
            db.Traces.Add(
                new TraceRow
                {
                    // In the order in which it was done.
                    Id = Guid.CreateVersion7(at.ToDateTimeOffset()),
                    WorkspaceId = definitions.Workspace.Id,
                    AboutSite = definitions.Site.Id,
                    At = at,
                    MemberId = who[by],
                    By = by,
                    Act = act,
                    Subject = subject,
                    Link = link,
                    Changes = change is null ? [] : [change],
                    Device = by == Editor ? "Firefox on Linux" : "Safari on Mac",
                }
            );
    }
}
