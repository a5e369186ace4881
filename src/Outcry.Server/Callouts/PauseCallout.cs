using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Planning;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Callouts;

/// <summary>Takes a callout off air and puts it back, puts it away and fetches it again.</summary>
internal static class PauseCallout
{
    public static Task<Results<Ok<CalloutView>, ProblemHttpResult>> PauseAsync([AsParameters] Move move) =>
        move.ToAsync(CalloutState.Paused, s => s == CalloutState.Live, "Only what is live can be paused.");

    public static Task<Results<Ok<CalloutView>, ProblemHttpResult>> ResumeAsync([AsParameters] Move move) =>
        move.ToAsync(
            CalloutState.Live,
            s => s == CalloutState.Paused,
            "Only what is paused can be resumed.",
            move.LiveObjectionAsync
        );

    public static Task<Results<Ok<CalloutView>, ProblemHttpResult>> ArchiveAsync([AsParameters] Move move) =>
        move.ToAsync(
            CalloutState.Archived,
            s => s is CalloutState.Draft or CalloutState.Paused,
            "It is live. Pause it first, then archive it."
        );

    public static Task<Results<Ok<CalloutView>, ProblemHttpResult>> RestoreAsync([AsParameters] Move move) =>
        move.ToAsync(CalloutState.Paused, s => s == CalloutState.Archived, "It is not archived.");

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

        /// <summary>
        /// What stands in the way of the revision that would be on air again: a segment, a page group or a source it names
        /// may have gone while it was away.
        /// </summary>
        public async Task<ProblemHttpResult?> LiveObjectionAsync(CalloutRow row)
        {
            var live = await Db
                .Revisions.AsNoTracking()
                .FirstAsync(r => r.CalloutId == row.Id && r.Number == row.Revision, Stop);
            return CalloutView.Objection(live.Brief, Sites.GetById(SiteId));
        }

        public async Task<Results<Ok<CalloutView>, ProblemHttpResult>> ToAsync(
            CalloutState state,
            Func<CalloutState, bool> from,
            string refusal,
            Func<CalloutRow, Task<ProblemHttpResult?>>? objectAsync = null
        )
        {
            var row = await CalloutView.FindAsync(Db, SiteId, CalloutId, Stop);
            if (row is null)
                return Problems.NotFound("callout");
            // What was never published has nothing to be paused: it comes back as the draft it was.
            var target = state == CalloutState.Paused && row.Revision == 0 ? CalloutState.Draft : state;
            if (row.State != target)
            {
                if (!from(row.State))
                    return Problems.Of(StatusCodes.Status409Conflict, "callout-state", "Not in this state", refusal);
                if (objectAsync is not null && await objectAsync(row) is { } objection)
                    return objection;
                row.State = target;
                row.ChangedAt = Clock.GetCurrentInstant();
                row.ChangedBy = Member.Name;
                await Db.SaveChangesAsync(Stop);
                await News.TellAsync(SiteId, SiteChange.Definition, row.Id);
            }
            return TypedResults.Ok(await CalloutView.ReadAsync(Db, row, Sites.GetById(SiteId), Stop));
        }
    }
}
