using Microsoft.EntityFrameworkCore;

namespace Outcry.Store;

/// <summary>What is done to letters within a transaction of others.</summary>
public static class LetterErasure
{
    /// <summary>Forgets what waits to be sent to leads. One that is being sent this very moment is not waited for.</summary>
    public static Task ForgetLettersAsync(this OutcryDb db, List<Guid> leads, CancellationToken stop) =>
        db.Database.ExecuteSqlAsync(
            $"delete from letters where id in (select id from letters where lead_id = any({leads}) for update skip locked)",
            stop
        );
}
