using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>
/// Remembers events that were erased or deleted for good by a keyed hash alone, so that the next fetch of a list, or the
/// next import of the file they came in, does not bring them back.
/// </summary>
internal sealed class Tombstones(LiveSites sites)
{
    public const string Sentence = "It was deleted or erased here before, and does not come in again.";

    /// <summary>Adds the stones for some events; saved with whatever else is saved.</summary>
    public static void Set(OutcryDb db, byte[] key, IEnumerable<EventRow> events, Instant now)
    {
        foreach (var gone in events)
            db.Tombstones.Add(
                new TombstoneRow
                {
                    WorkspaceId = gone.WorkspaceId,
                    SiteId = gone.SiteId,
                    Key = KeyOf(key, gone.SourceId, gone.ExternalId),
                    At = now,
                }
            );
    }

    /// <summary>The key of the stone that stands for an event, if it was deleted or erased before.</summary>
    public string KeyOf(EventRow row) => KeyOf(sites.GetById(row.SiteId).PersonKey, row.SourceId, row.ExternalId);

    private static string KeyOf(byte[] key, Guid source, string externalId) =>
        KeyedHash.HexOf(key, $"gone\n{source:N}\n{externalId}");
}
