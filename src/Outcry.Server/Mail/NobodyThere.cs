using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Store;

namespace Outcry.Server.Mail;

/// <summary>What becomes of a lead whose address or number turns out to be nobody's.</summary>
internal static class NobodyThere
{
    /// <summary>Notes it. Whoever has an address as well is still to be reached by it when their number is nobody's.</summary>
    /// <returns>The sites that know them; none where they are gone.</returns>
    public static async Task<IReadOnlyList<Guid>> NoteAsync(
        OutcryDb db,
        Guid leadId,
        bool isText,
        Instant now,
        CancellationToken stop
    )
    {
        var lead = await db
            .Leads.FromSql($"select * from leads where id = {leadId} for update")
            .AsTracking()
            .FirstOrDefaultAsync(stop);
        if (lead is null || (isText && lead.Email is not null))
            return [];
        var after = lead.Life.ComeBack(now);
        if (after != lead.Life)
            (lead.Life, lead.ChangedAt) = (after, now);
        return lead.Sites;
    }
}
