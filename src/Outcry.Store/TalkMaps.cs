using Microsoft.EntityFrameworkCore;
using Outcry.Store.Rows;

namespace Outcry.Store;

/// <summary>How talks lie in the database.</summary>
internal static class TalkMaps
{
    public static void Map(ModelBuilder builder)
    {
        builder.Entity<TalkRow>(e =>
        {
            e.ToTable("talks");
            e.Ignore(t => t.Standing);
            e.Property(t => t.State).HasConversion<string>();
            e.Property(t => t.Script).IsJson();
            e.HasIndex(t => new
            {
                t.SiteId,
                t.State,
                t.LastAt,
            });
            e.HasIndex(t => new { t.SiteId, t.VisitorId });
            e.HasIndex(t => new { t.SiteId, t.Person }).HasFilter("person is not null");
            e.HasIndex(t => t.SnoozedUntil).HasFilter("snoozed_until is not null");
            e.HasIndex(t => t.ScriptEndsAt).HasFilter("script_ends_at is not null");
            e.HasIndex(t => t.WaitingSince).HasFilter("waiting_since is not null");
        });
        builder.Entity<TalkWordRow>(e =>
        {
            e.ToTable("talk_words");
            e.HasKey(w => new { w.TalkId, w.Number });
            // Sent twice is kept once.
            e.HasIndex(w => new { w.TalkId, w.Id }).IsUnique();
            e.Property(w => w.By).HasConversion<string>();
            e.Property(w => w.For).HasConversion<string>();
            e.Property(w => w.File).IsJson();
            e.HasOne<TalkRow>().WithMany().HasForeignKey(w => w.TalkId).OnDelete(DeleteBehavior.Cascade);
            e.Property(w => w.Search)
                .HasComputedColumnSql(SearchLanguages.VectorSql("searched_as", "text"), stored: true);
            e.HasIndex(w => w.Search).HasMethod("gin");
        });
        builder.Entity<TalkFileRow>(e =>
        {
            e.ToTable("talk_files");
            e.HasIndex(f => new { f.TalkId, f.At });
            e.HasOne<TalkRow>().WithMany().HasForeignKey(f => f.TalkId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<AnswerGroupRow>(e =>
        {
            e.ToTable("answer_groups");
            e.HasIndex(g => new { g.WorkspaceId, g.Name }).IsUnique();
        });
        builder.Entity<BookingRow>(e =>
        {
            e.ToTable("bookings");
            e.HasIndex(b => new { b.StepId, b.StartsAt }).IsUnique().HasFilter("cancelled_at is null");
            e.HasIndex(b => b.TalkId);
            e.HasOne<TalkRow>().WithMany().HasForeignKey(b => b.TalkId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<SavedReplyRow>(e =>
        {
            e.ToTable("saved_replies");
            e.HasIndex(r => new { r.SiteId, r.Shortcut }).IsUnique();
        });
    }
}
