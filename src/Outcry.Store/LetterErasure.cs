using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Asking;

namespace Outcry.Store;

/// <summary>What is done to letters within a transaction of others.</summary>
public static class LetterErasure
{
    /// <summary>Forgets what waits to be sent to leads, and notes that it was not. One that is being sent this very moment is not waited for.</summary>
    public static Task ForgetLettersAsync(this OutcryDb db, List<Guid> leads, Instant now, CancellationToken stop) =>
        db.Database.ExecuteSqlAsync(
            $"""
            with gone as (
                delete from letters where id in (select id from letters where lead_id = any({leads}) for update skip locked)
                returning id)
            update lead_mails set state = {nameof(
                SentState.NotSent
            )}, changed_at = {now} where id in (select id from gone)
            """,
            stop
        );

    /// <summary>Notes what became of letters to leads.</summary>
    public static Task NoteLettersAsync(
        this OutcryDb db,
        List<Guid> letters,
        SentState state,
        Instant now,
        CancellationToken stop
    ) =>
        db
            .LeadMails.Where(m => letters.Contains(m.Id))
            .ExecuteUpdateAsync(u => u.SetProperty(m => m.State, state).SetProperty(m => m.ChangedAt, now), stop);
}
