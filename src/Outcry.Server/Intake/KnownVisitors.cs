using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Visitors;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
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
        var clues = PersonClues.Of(
            site.PersonKey,
            said.GetValueOrDefault("email"),
            said.GetValueOrDefault("phone"),
            site.Region
        );
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
            known.Attributes.Concat(Kept(site, said)).DistinctByLast().TakeLast(MostAttributes)
        );
        if (isSigned && said.TryGetValue("id", out var id))
            known.Person = SignedPerson.HashOf(site.PersonKey, id);
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

    // Who it is, as masks; besides that what a rule of the site asks for, and nothing else.
    private static IEnumerable<KeyValuePair<string, string>> Kept(LiveSite site, Dictionary<string, string> said) =>
        said.Where(s =>
                IsIdentity(s.Key) || s.Key == VisitorFacts.TagsAttribute || site.AskedAttributes.Contains(s.Key)
            )
            .Select(s => new KeyValuePair<string, string>(s.Key, Masked(s.Key, s.Value)));

    private static bool IsIdentity(string key) => key is "email" or "phone" or "name" or "first_name" or "last_name";

    private static string Masked(string key, string value) =>
        key switch
        {
            "email" => Mask.Email(value),
            "phone" => Mask.Phone(value),
            "name" or "first_name" => Mask.Name(PersonName.Shorten(value, null)),
            "last_name" => Mask.Name(PersonName.Shorten(value, null)) is { Length: > 0 } name
                ? $"{name[..1]}•••••"
                : "",
            // Whatever it is called: what looks like somebody's address or number is masked.
            _ => PlainText.Clip(PrivateContent.Mask(key, value), LongestValue),
        };

    private const int LongestValue = 200;
}

internal static class LastWins
{
    public static IEnumerable<KeyValuePair<string, string>> DistinctByLast(
        this IEnumerable<KeyValuePair<string, string>> pairs
    ) => pairs.GroupBy(p => p.Key).Select(g => g.Last());
}
