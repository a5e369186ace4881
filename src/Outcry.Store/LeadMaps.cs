using Microsoft.EntityFrameworkCore;
using Outcry.Store.Rows;

namespace Outcry.Store;

/// <summary>How leads lie in the database.</summary>
internal static class LeadMaps
{
    public static void Map(ModelBuilder builder)
    {
        builder.Entity<LeadRow>(e =>
        {
            e.ToTable("leads");
            e.Ignore(l => l.Life);
            e.Property(l => l.State).HasConversion<string>();
            e.Property(l => l.Answers).IsJson();
            // One person is one lead, whoever says yes at the same moment.
            e.HasIndex(l => new { l.WorkspaceId, l.EmailKey }).IsUnique().HasFilter("email_key is not null");
            e.HasIndex(l => new { l.WorkspaceId, l.Phone }).HasFilter("phone is not null");
            e.HasIndex(l => new
            {
                l.WorkspaceId,
                l.ChangedAt,
                l.Id,
            });
        });
        builder.Entity<LeadYesRow>(e =>
        {
            e.ToTable("lead_yeses");
            e.Property(y => y.Answers).IsJson();
            e.HasIndex(y => new { y.LeadId, y.At });
            e.HasIndex(y => new { y.CalloutId, y.At });
            e.HasIndex(y => new { y.SiteId, y.VisitorId });
            e.HasOne<LeadRow>().WithMany().HasForeignKey(y => y.LeadId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<LeadMailRow>(e =>
        {
            e.ToTable("lead_mails");
            e.Property(m => m.State).HasConversion<string>();
            e.HasIndex(m => new { m.LeadId, m.At });
            e.HasIndex(m => m.At);
            e.HasOne<LeadRow>().WithMany().HasForeignKey(m => m.LeadId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<FollowRunRow>(e =>
        {
            e.ToTable("follow_runs");
            e.Property(r => r.End).HasConversion<string>();
            // Each person comes into a follow-up once.
            e.HasIndex(r => new { r.FollowUpId, r.LeadId }).IsUnique();
            e.HasIndex(r => r.DueAt).HasFilter("due_at is not null");
            e.HasIndex(r => r.LeadId);
            e.HasOne<LeadRow>().WithMany().HasForeignKey(r => r.LeadId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<PromiseRow>(e =>
        {
            e.ToTable("promises");
            e.HasIndex(p => new { p.WorkspaceId, p.Hash }).IsUnique();
        });
        builder.Entity<CodePoolRow>(e =>
        {
            e.ToTable("code_pools");
            e.HasIndex(p => p.SiteId);
        });
        builder.Entity<CodeRow>(e =>
        {
            e.ToTable("codes");
            e.HasKey(c => new { c.PoolId, c.Code });
            // A yes is given one code, however often it is confirmed.
            e.HasIndex(c => c.YesId).IsUnique().HasFilter("yes_id is not null");
            e.HasIndex(c => c.PoolId).HasFilter("yes_id is null");
            e.HasOne<CodePoolRow>().WithMany().HasForeignKey(c => c.PoolId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<WebhookRow>(e =>
        {
            e.ToTable("webhooks");
            e.PrimitiveCollection(w => w.Words).ElementType(t => t.HasConversion<string>());
            e.HasIndex(w => w.SiteId);
        });
        builder.Entity<WebhookMessageRow>(e =>
        {
            e.ToTable("webhook_messages");
            e.Property(m => m.Word).HasConversion<string>();
            e.HasIndex(m => new { m.WebhookId, m.MadeAt });
            e.HasIndex(m => m.NextAt).HasFilter("next_at is not null");
            e.HasOne<WebhookRow>().WithMany().HasForeignKey(m => m.WebhookId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<RewardFileRow>(e =>
        {
            e.ToTable("reward_files");
            e.HasIndex(f => f.SiteId);
        });
    }
}
