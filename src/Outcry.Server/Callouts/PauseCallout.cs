using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Callouts;

/// <summary>Takes a callout off air and puts it back, puts it away and fetches it again.</summary>
internal static class PauseCallout
{
    public static Task<Results<Ok<CalloutView>, ProblemHttpResult>> PauseAsync([AsParameters] Move move) =>
        move.MakeAsync(DefinitionMove.Pause);

    public static Task<Results<Ok<CalloutView>, ProblemHttpResult>> ResumeAsync([AsParameters] Move move) =>
        move.MakeAsync(DefinitionMove.Resume);

    public static Task<Results<Ok<CalloutView>, ProblemHttpResult>> ArchiveAsync([AsParameters] Move move) =>
        move.MakeAsync(DefinitionMove.Archive);

    public static Task<Results<Ok<CalloutView>, ProblemHttpResult>> RestoreAsync([AsParameters] Move move) =>
        move.MakeAsync(DefinitionMove.Restore);

    internal sealed class Move
    {
        public Guid SiteId { get; init; }
        public Guid CalloutId { get; init; }
        public required OutcryDb Db { get; init; }
        public required LiveSites Sites { get; init; }
        public required SiteNews News { get; init; }
        public required CurrentMember Member { get; init; }
        public required IClock Clock { get; init; }
        public CancellationToken Stop { get; init; }

        public async Task<Results<Ok<CalloutView>, ProblemHttpResult>> MakeAsync(DefinitionMove move)
        {
            var row = await CalloutView.FindAsync(Db, SiteId, CalloutId, Stop);
            if (row is null)
                return Problems.NotFound("callout");
            var (to, refusal) = DefinitionLife.Decide(row.State, move, wasPublished: row.Revision > 0);
            if (refusal is not null)
                return Problems.Of(StatusCodes.Status409Conflict, "callout-state", "Not in this state", refusal);
            if (row.State != to)
            {
                if (DefinitionLife.NeedsCheck(move) && await LiveObjectionAsync(row) is { } objection)
                    return objection;
                row.State = to;
                row.ChangedAt = Clock.GetCurrentInstant();
                row.ChangedBy = Member.Name;
                await Db.SaveChangesAsync(Stop);
                await News.TellAsync(SiteId, SiteChange.Definition, row.Id);
            }
            return TypedResults.Ok(await CalloutView.ReadAsync(Db, row, Sites.GetById(SiteId), Stop));
        }

        // A segment, a page group or a source that the revision names may have gone while it was away.
        private async Task<ProblemHttpResult?> LiveObjectionAsync(CalloutRow row)
        {
            var live = await Db
                .Revisions.AsNoTracking()
                .FirstAsync(r => r.CalloutId == row.Id && r.Number == row.Revision, Stop);
            return CalloutView.Objection(live.Brief, Sites.GetById(SiteId));
        }
    }
}
