using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>Keeps what pages say of their visitors. E-mail, phone and name are kept as masks and keyed hashes only.</summary>
internal sealed class KnownVisitors(SystemDb database)
{
    private const int MostAttributes = 40;

    public async Task NoteAsync(
        LiveSite site,
        string visitorId,
        Dictionary<string, string> said,
        bool isSigned,
        Instant now,
        CancellationToken stop
    )
    {
        var clues = PersonClues.Of(site.SigningKey, said.GetValueOrDefault("email"), said.GetValueOrDefault("phone"));
        await using var db = database.Open();
        var known = await db.Visitors.FirstOrDefaultAsync(v => v.SiteId == site.Id && v.VisitorId == visitorId, stop);
        // What was signed is not overwritten by what anybody may type into a console.
        if (known is { IsSigned: true } && !isSigned)
            return;
        if (known is null)
            db.Visitors.Add(
                known = new VisitorRow
                {
                    WorkspaceId = site.WorkspaceId,
                    SiteId = site.Id,
                    VisitorId = visitorId,
                    FirstAt = now,
                }
            );
        known.LastAt = now;
        known.IsSigned = isSigned;
        known.Attributes = new Dictionary<string, string>(
            known.Attributes.Concat(Masked(said)).DistinctByLast().TakeLast(MostAttributes)
        );
        known.EmailKey = clues.EmailKey ?? known.EmailKey;
        known.PhoneKey = clues.PhoneKey ?? known.PhoneKey;
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateException)
        {
            // Two pages of one visitor said it at the same moment; the other one is kept.
        }
    }

    private static IEnumerable<KeyValuePair<string, string>> Masked(Dictionary<string, string> said) =>
        said.Select(s => new KeyValuePair<string, string>(
            s.Key,
            s.Key switch
            {
                "email" => Mask.Email(s.Value),
                "phone" => Mask.Phone(s.Value),
                "name" or "first_name" => Mask.Name(PersonName.Shorten(s.Value, null)),
                "last_name" => Mask.Name(PersonName.Shorten(s.Value, null)) is { Length: > 0 } name
                    ? $"{name[..1]}•••••"
                    : "",
                _ => s.Value.Length <= 200 ? s.Value : s.Value[..200],
            }
        ));
}

internal static class LastWins
{
    public static IEnumerable<KeyValuePair<string, string>> DistinctByLast(
        this IEnumerable<KeyValuePair<string, string>> pairs
    ) => pairs.GroupBy(p => p.Key).Select(g => g.Last());
}
