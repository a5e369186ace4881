using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Sources;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>
/// Counts forms from the day of install: of every form that is sent while no source listens to it, time and page are kept, never
/// anything that was in it. A source that listens later begins with them.
/// </summary>
internal sealed class FormSends(SystemDb database, NpgsqlDataSource source, EventRecorder recorder)
{
    /// <summary>Kept of one form at most, the newest.</summary>
    public const int MostOfForm = 20_000;

    /// <summary>One browser sends one form once within this time; a page's own script may raise the sending twice.</summary>
    private static readonly Duration Once = Repetition.Window;

    private const int Lot = 500;

    /// <summary>Notes that a form was sent, if it is one of those that were met on the site.</summary>
    public async Task NoteAsync(
        LiveSite site,
        string key,
        string page,
        PageActor actor,
        Instant now,
        CancellationToken stop
    )
    {
        // Whoever tries a form out is not counted.
        if (
            actor.IsOwn
            || PlainText.OrNull(key)?.Trim() is not { Length: > 0 } name
            || PageAddress.TryParse(page) is not { } at
            || PageAddress.Shorn(page, site.AskedQuery) is not { } address
            // Its source has it from the page itself.
            || site.Forms.Any(f => f.Mapping.Form == name && f.Pages.Decide(at).Shown)
        )
            return;
        await using var command = source.CreateCommand(
            """
            insert into form_sends (id, workspace_id, site_id, key, page, at, visitor_id)
            select $1, $2, $3, $4, $5, $6, $7
            where exists (select 1 from found_forms where site_id = $3 and key = $4)
              and not exists (select 1 from form_sends where site_id = $3 and key = $4 and visitor_id = $7 and at > $8)
            """
        );
        foreach (
            var value in new object[]
            {
                Guid.CreateVersion7(),
                site.WorkspaceId,
                site.Id,
                name,
                address,
                now,
                actor.VisitorId,
                now - Once,
            }
        )
            command.Parameters.AddWithValue(value);
        await command.ExecuteNonQueryAsync(stop);
    }

    /// <summary>Makes events of what was counted before a source began to listen; returns how many came of it.</summary>
    /// <remarks>
    /// Where a form only counts once a page or an element proves that it went through, nobody looked for that before: nothing is
    /// taken, and what was counted stays for as long as events do.
    /// </remarks>
    public async Task<int> TakeInAsync(SourceRow listener, LiveSite site, Instant now, CancellationToken stop)
    {
        if (LiveForm.TryMake(listener) is not { } form || form.Mapping.Success is { Sign: not SuccessSign.Sent })
            return 0;
        await using var db = database.Open();
        var counted = await db
            .FormSends.AsNoTracking()
            .Where(f => f.SiteId == site.Id && f.Key == form.Mapping.Form)
            .OrderByDescending(f => f.At)
            .Take(MostOfForm)
            .ToListAsync(stop);
        var sends = counted.FindAll(f => PageAddress.TryParse(f.Page) is { } page && form.Pages.Decide(page).Shown);
        var taken = 0;
        foreach (var lot in sends.Chunk(Lot))
        {
            var arrivals = lot.Select(f => new IncomingEvent
                {
                    ExternalId = $"sent-{f.Id:N}",
                    Kind = listener.EventKind,
                    At = f.At,
                    Page = f.Page,
                    VisitorId = f.VisitorId,
                })
                .ToList();
            taken += (await recorder.RecordManyAsync(arrivals, listener, null, dryRun: false, now, stop)).Added;
            var ids = lot.Select(f => f.Id).ToList();
            await db.FormSends.Where(f => ids.Contains(f.Id)).ExecuteDeleteAsync(stop);
        }
        return taken;
    }
}
