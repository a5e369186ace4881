using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Asking;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Mail;

/// <summary>Sends what is to be sent, and tries again what no server took: the letters lie in the database until one has.</summary>
internal sealed class LetterRound(
    SystemDb database,
    Postman postman,
    TextGateway texts,
    SiteNews news,
    LoopWatch watch,
    IClock clock
) : BackgroundService
{
    private const string Round = "mails to be sent";
    private const int MostAtOnce = 20;
    private static readonly TimeSpan Tick = TimeSpan.FromSeconds(2);

    // A server that is away is back within minutes as a rule; one that refuses is asked less and less.
    private static readonly Duration[] Waits =
    [
        Duration.FromMinutes(1),
        Duration.FromMinutes(5),
        Duration.FromMinutes(30),
        Duration.FromHours(3),
        Duration.FromHours(12),
    ];

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        watch.KeepAsync(Round, GoAsync, stoppingToken);

    private async Task GoAsync(CancellationToken stop)
    {
        using var timer = new PeriodicTimer(Tick);
        while (await timer.WaitForNextTickAsync(stop))
        {
            // Without a server they wait: once one is set, they go out.
            if (postman.IsSet || texts.IsSet)
                try
                {
                    await SendDueAsync(stop);
                }
                catch (Exception away) when (!stop.IsCancellationRequested && Problems.IsDatabaseAway(away))
                {
                    watch.PassedOver(Round, away);
                }
            watch.WentRound(Round);
        }
    }

    private async Task SendDueAsync(CancellationToken stop)
    {
        await using var db = database.Open();
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        var now = clock.GetCurrentInstant();
        // Another node takes others: what is locked is being sent.
        var due = await db
            .Letters.FromSql(
                $"""
                select * from letters where next_at <= {now} and ((is_text and {texts.IsSet}) or (not is_text and {postman.IsSet}))
                order by next_at limit {MostAtOnce} for update skip locked
                """
            )
            .ToListAsync(stop);
        // One that was being sent as its reader took it back was left; what no server took then is not tried again. Nor does anything go
        // where everything comes back.
        var ids = due.Select(l => l.LeadId).OfType<Guid>().ToHashSet();
        var readers = (
            await db.Leads.Where(l => ids.Contains(l.Id)).Select(l => new { l.Id, l.State }).ToListAsync(stop)
        )
            .Where(l => LeadLife.MayStillGoTo(l.State))
            .Select(l => l.Id)
            .ToHashSet();
        var (taken, unsent, lost) = (new List<Guid>(), new List<Guid>(), new List<LetterRow>());
        foreach (var row in due)
        {
            if (row.LeadId is { } reader && !readers.Contains(reader))
            {
                db.Letters.Remove(row);
                unsent.Add(row.Id);
                continue;
            }
            switch (await SendAsync(row, stop))
            {
                case Sending.Taken:
                    db.Letters.Remove(row);
                    taken.Add(row.Id);
                    break;
                case Sending.Nobody when row.LeadId is { } lead:
                    db.Letters.Remove(row);
                    await NobodyThere.NoteAsync(db, lead, row.IsText, now, stop);
                    if (db.Leads.Local.Any(l => l.Id == lead && !LeadLife.MayStillGoTo(l.State)))
                        readers.Remove(lead);
                    lost.Add(row);
                    break;
                default:
                    (row.Tries, row.NextAt) = (row.Tries + 1, now + Waits[Math.Min(row.Tries, Waits.Length - 1)]);
                    break;
            }
        }
        await db.NoteLettersAsync(taken, SentState.Taken, now, stop);
        await db.NoteLettersAsync(unsent, SentState.NotSent, now, stop);
        await db.NoteLettersAsync(lost.ConvertAll(l => l.Id), SentState.Refused, now, stop);
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        foreach (var row in lost)
            await news.TellAsync(row.SiteId, SiteChange.Gave, row.LeadId);
    }

    private Task<Sending> SendAsync(LetterRow row, CancellationToken stop) =>
        row.IsText
            ? texts.SendAsync(row.To, row.Text, $"{row.Id:N}", stop)
            : postman.SendAsync(
                new Letter(row.To, row.Subject, row.Text, row.ReplyTo, row.Html, row.LeaveAt, row.Calendar)
                {
                    ComesBackAs = row.LeadId is null ? null : row.Id,
                },
                stop
            );
}
