using Microsoft.EntityFrameworkCore;
using MimeKit;
using NodaTime;
using Outcry.Core.Asking;
using Outcry.Server.Mail;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Leads;

/// <param name="Noted">How many leads cannot be reached by it.</param>
internal sealed record BounceAnswer(int Noted);

/// <summary>
/// POST /in/bounces: a mail that came back, handed on by the mail server: a delivery status notification (RFC 3464) as it
/// arrived. Whoever's address it says for good that nobody has (RFC 3463: 5.1.x, 5.2.1) cannot be reached any more.
/// </summary>
internal sealed class TakeBounce(SystemDb database, BounceAddress returnPath, SiteNews news, IClock clock)
{
    /// <summary>A report holds the mail that came back at most once, and those are small.</summary>
    public const int MostBytes = 1024 * 1024;

    public async Task<IResult> HandleAsync(HttpContext http)
    {
        var stop = http.RequestAborted;
        if (!returnPath.IsSet)
            return Problems.NotFound("address for mails that come back");
        if (!returnPath.Opens(http.Request.Headers.Authorization))
            return Problems.Of(
                StatusCodes.Status401Unauthorized,
                "no-key",
                "Not let in",
                "Show the key of the setting Mail:BounceKey as \"Authorization: Bearer …\"."
            );
        if (await BodyLimits.TryReadAsync(http.Request, MostBytes, stop) is not { } body)
            return Problems.TooLarge(MostBytes);
        MimeMessage mail;
        try
        {
            using var read = new MemoryStream(body);
            mail = await MimeMessage.LoadAsync(read, stop);
        }
        catch (FormatException)
        {
            return Problems.BadField("body", "That is no mail.");
        }
        var reports = mail.BodyParts.OfType<MessageDeliveryStatus>().ToList();
        if (reports.Count == 0)
            return Problems.BadField("body", "That mail is no delivery status notification (RFC 3464).");
        var noted = 0;
        if (reports.Exists(SaysNobody))
            foreach (var letter in Addressees(mail).Select(returnPath.Read).OfType<Guid>().Distinct())
                noted += await NoteAsync(letter, stop) ? 1 : 0;
        return TypedResults.Ok(new BounceAnswer(noted));
    }

    private async Task<bool> NoteAsync(Guid letter, CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        await using var db = database.Open();
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        var lead = await db.LeadMails.Where(m => m.Id == letter).Select(m => m.LeadId).FirstOrDefaultAsync(stop);
        var sites = await NobodyThere.NoteAsync(db, lead, isText: false, now, stop);
        await db.NoteLettersAsync([letter], SentState.CameBack, now, stop);
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        foreach (var site in sites)
            await news.TellAsync(site, SiteChange.Gave, lead);
        return sites.Count > 0;
    }

    // The first group is of the whole mail, each other of one reader. A full mailbox (5.2.2) or a rule (5.7) says nothing of the address.
    private static bool SaysNobody(MessageDeliveryStatus report)
    {
        try
        {
            return report
                .StatusGroups.Skip(1)
                .Any(g =>
                    g["Action"]?.Trim().Equals("failed", StringComparison.OrdinalIgnoreCase) == true
                    && g["Status"]?.Trim() is { } status
                    && (status.StartsWith("5.1.", StringComparison.Ordinal) || status.Split(' ')[0] == "5.2.1")
                );
        }
        catch (FormatException)
        {
            return false;
        }
    }

    private static IEnumerable<string> Addressees(MimeMessage mail) =>
        mail
            .To.Mailboxes.Select(m => m.Address)
            .Concat(
                mail.Headers.Where(h => h.Field is "Delivered-To" or "X-Original-To" or "Envelope-To")
                    .Select(h => h.Value.Trim().Trim('<', '>'))
            );
}
