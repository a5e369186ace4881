using System.Security.Cryptography;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
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
        await AddTracesAsync(db);
        await db.SaveChangesAsync();
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
