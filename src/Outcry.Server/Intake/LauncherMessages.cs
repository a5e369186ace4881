using System.Globalization;
using System.Net.Mail;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;
using Outcry.Core.Access;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Greetings;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>A message that was written in a launcher's panel.</summary>
/// <param name="Id">Under which it counts once.</param>
/// <param name="Launcher">In whose panel.</param>
/// <param name="Channel">By which channel.</param>
/// <param name="Fields">What was written, by what was asked for.</param>
/// <param name="Greeting">Words of the greeting that led to it; empty for none.</param>
/// <param name="Page">Address of the page.</param>
internal sealed record WrittenMessage(
    Guid Id,
    Launcher Launcher,
    Channel Channel,
    IReadOnlyDictionary<string, string> Fields,
    string Greeting,
    string Page
);

/// <summary>Takes messages from a launcher's panel: an enquiry in the ledger, and a mail to the team.</summary>
internal sealed class LauncherMessages(BrowserIntake intake, SystemDb database, OwnSources sources)
{
    // One for all launchers of a site.
    private static readonly OwnSource Messages = new(
        SourceKind.Launcher,
        "Messages to the team",
        EventKind.Enquiry,
        [EventFields.Words, "launcher", "greeting"]
    );

    private const int LongestMessage = 4_000;
    private const int LongestLine = 200;

    /// <summary>Commits the message; returns the problem that it is answered with when it is not taken.</summary>
    public async Task<ProblemHttpResult?> TakeAsync(
        LiveSite site,
        WrittenMessage written,
        PageActor actor,
        Instant now,
        CancellationToken stop
    )
    {
        var (said, problem) = Read(site, written);
        if (problem is not null)
            return problem;
        var source = await sources.FindAsync(site, Messages, now, stop);
        var arrival = new IncomingEvent
        {
            ExternalId = written.Id.ToString(),
            Kind = EventKind.Enquiry,
            At = now,
            FirstName = said!.Name,
            Email = said.Email,
            Phone = said.Phone,
            Fields = new Dictionary<string, string>
            {
                [EventFields.Words] = said.Message ?? "",
                ["launcher"] = written.Launcher.Definition.Name,
                ["greeting"] = written.Greeting,
            },
        };
        // A member's own try is no enquiry: it stays in the ledger as a test and goes to nobody.
        if (!actor.IsOwn && !await IsKnownAsync(source, written.Id, stop))
            // Before the event, so that whatever happens between the two, whoever wrote is heard.
            await MailAsync(site, written, said, now, stop);
        var refused = await intake.TakeAsync(
            site,
            source,
            actor,
            "fields",
            () => (actor.Sign(arrival, written.Page), null),
            now,
            stop
        );
        await SettleAsync(site, written.Id, refused is null, now, CancellationToken.None);
        return refused;
    }

    /// <summary>Notes a talk that began as an enquiry in the ledger; nobody is mailed. Returns the problem when it is too much.</summary>
    public async Task<ProblemHttpResult?> NoteTalkAsync(
        LiveSite site,
        WrittenMessage written,
        PageActor actor,
        Instant now,
        CancellationToken stop
    ) =>
        await intake.TakeAsync(
            site,
            await sources.FindAsync(site, Messages, now, stop),
            actor,
            "text",
            () =>
                (
                    actor.Sign(
                        new IncomingEvent
                        {
                            ExternalId = written.Id.ToString(),
                            Kind = EventKind.Enquiry,
                            At = now,
                            Fields = new Dictionary<string, string>
                            {
                                [EventFields.Words] = written.Fields.Values.FirstOrDefault() ?? "",
                                ["launcher"] = written.Launcher.Definition.Name,
                                ["greeting"] = written.Greeting,
                            },
                        },
                        written.Page
                    ),
                    null
                ),
            now,
            stop
        );

    // Letters wait until the event is in the ledger; those of what was refused are not sent.
    private async Task SettleAsync(LiveSite site, Guid message, bool isTaken, Instant now, CancellationToken stop)
    {
        await using var db = database.Open();
        var letters = db.Letters.Where(l => l.SiteId == site.Id && l.About == message.ToString() && l.Tries == 0);
        if (isTaken)
            await letters.ExecuteUpdateAsync(l => l.SetProperty(x => x.NextAt, now), stop);
        else
            await letters.ExecuteDeleteAsync(stop);
    }

    private static readonly Duration HeldFor = Duration.FromMinutes(1);

    private sealed record Said(string? Name, string? Email, string? Phone, string? Message);

    private static (Said? Said, ProblemHttpResult? Problem) Read(LiveSite site, WrittenMessage written)
    {
        var said = new Dictionary<AskedField, string?>();
        foreach (var asked in written.Channel.Asked)
        {
            var key = asked.Field.ToString().ToLowerInvariant();
            var text = PlainText.OrNull(written.Fields.GetValueOrDefault(key));
            if (text is null && asked.Needed)
                return (null, Problems.BadField($"fields.{key}", "Please fill this in."));
            if (text?.Length > (asked.Field == AskedField.Message ? LongestMessage : LongestLine))
                return (null, Problems.BadField($"fields.{key}", "This is too long."));
            if (text is not null && asked.Field == AskedField.Email && !MailAddress.TryCreate(text, out _))
                return (null, Problems.BadField("fields.email", "Please check this address."));
            if (text is not null && asked.Field == AskedField.Phone && PhoneNumber.ToE164(text, site.Region) is null)
                return (null, Problems.BadField("fields.phone", "Please check this number."));
            said[asked.Field] = text;
        }
        return (
            new Said(
                said.GetValueOrDefault(AskedField.Name),
                said.GetValueOrDefault(AskedField.Email),
                said.GetValueOrDefault(AskedField.Phone),
                said.GetValueOrDefault(AskedField.Message)
            ),
            null
        );
    }

    private async Task<bool> IsKnownAsync(SourceRow source, Guid id, CancellationToken stop)
    {
        await using var db = database.Open();
        return await db.Events.AnyAsync(e => e.SourceId == source.Id && e.ExternalId == id.ToString(), stop);
    }

    private async Task MailAsync(LiveSite site, WrittenMessage written, Said said, Instant now, CancellationToken stop)
    {
        await using var db = database.Open();
        IReadOnlyList<string> to = written.Launcher.Brief.MailTo;
        if (to.Count == 0)
            to = await db
                .Memberships.Where(m => m.WorkspaceId == site.WorkspaceId && m.Role == Role.Owner)
                .Join(db.Users, m => m.MemberId, u => u.Id, (m, u) => u.Email!)
                .ToListAsync(stop);
        foreach (var address in to)
            db.Letters.Add(
                new LetterRow
                {
                    WorkspaceId = site.WorkspaceId,
                    SiteId = site.Id,
                    To = address,
                    About = written.Id.ToString(),
                    ReplyTo = said.Email,
                    Subject = $"{said.Name ?? "A visitor"} wrote to {written.Launcher.Definition.Name}",
                    Text = TextOf(site, written, said, now),
                    MadeAt = now,
                    NextAt = now + HeldFor,
                }
            );
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateException repeated)
            when (repeated.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            // The same message came twice at once: its letters are there.
        }
    }

    private static string TextOf(LiveSite site, WrittenMessage written, Said said, Instant now)
    {
        var lines = new List<string>();
        if (said.Message is not null)
            lines.AddRange([said.Message, ""]);
        foreach (
            var (name, value) in new[]
            {
                ("Name", said.Name),
                ("E-mail", said.Email),
                ("Phone", said.Phone),
                ("Page", written.Page),
                ("After the greeting", written.Greeting.Length > 0 ? written.Greeting : null),
            }
        )
            if (value is not null)
                lines.Add($"{name}: {value}");
        var at = now.InZone(site.Zone).ToString("ddd d MMM, HH:mm", CultureInfo.InvariantCulture);
        lines.AddRange([
            $"Written: {at} ({site.Zone.Id})",
            "",
            said.Email is null ? "No e-mail address was left." : "Answer this mail to answer them.",
        ]);
        return string.Join("\n", lines);
    }
}
