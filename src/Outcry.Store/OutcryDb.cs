using System.Linq.Expressions;
using Microsoft.AspNetCore.DataProtection.EntityFrameworkCore;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.Extensions.DependencyInjection;
using Outcry.Store.Rows;

namespace Outcry.Store;

/// <summary>The database. Every row that belongs to a workspace is filtered by it here, and nowhere else.</summary>
public sealed class OutcryDb(DbContextOptions<OutcryDb> options, WorkspaceScope scope)
    : IdentityDbContext<Member, IdentityRole<Guid>, Guid>(options),
        IDataProtectionKeyContext
{
    public DbSet<WorkspaceRow> Workspaces => Set<WorkspaceRow>();
    public DbSet<MembershipRow> Memberships => Set<MembershipRow>();
    public DbSet<SiteRow> Sites => Set<SiteRow>();
    public DbSet<SegmentRow> Segments => Set<SegmentRow>();
    public DbSet<PageGroupRow> PageGroups => Set<PageGroupRow>();
    public DbSet<SourceRow> Sources => Set<SourceRow>();
    public DbSet<EventRow> Events => Set<EventRow>();
    public DbSet<DefinitionRow> Definitions => Set<DefinitionRow>();
    public DbSet<RevisionRow> Revisions => Set<RevisionRow>();
    public DbSet<PlaceRow> Places => Set<PlaceRow>();
    public DbSet<HeardHostRow> HeardHosts => Set<HeardHostRow>();
    public DbSet<DeliveryRow> Deliveries => Set<DeliveryRow>();
    public DbSet<FoundFormRow> FoundForms => Set<FoundFormRow>();
    public DbSet<FormSendRow> FormSends => Set<FormSendRow>();
    public DbSet<ShopRow> Shops => Set<ShopRow>();
    public DbSet<CorrectionRow> Corrections => Set<CorrectionRow>();
    public DbSet<ImportRow> Imports => Set<ImportRow>();
    public DbSet<RejectRow> Rejects => Set<RejectRow>();
    public DbSet<SavedViewRow> SavedViews => Set<SavedViewRow>();
    public DbSet<ErasureRow> Erasures => Set<ErasureRow>();
    public DbSet<TombstoneRow> Tombstones => Set<TombstoneRow>();
    public DbSet<LetterRow> Letters => Set<LetterRow>();

    public DbSet<SessionRow> Sessions => Set<SessionRow>();
    public DbSet<DeviceRow> Devices => Set<DeviceRow>();
    public DbSet<InvitationRow> Invitations => Set<InvitationRow>();
    public DbSet<TokenRow> Tokens => Set<TokenRow>();
    public DbSet<TraceRow> Traces => Set<TraceRow>();
    public DbSet<ReviewRow> Reviews => Set<ReviewRow>();
    public DbSet<TalkRow> Talks => Set<TalkRow>();
    public DbSet<AnswerGroupRow> AnswerGroups => Set<AnswerGroupRow>();
    public DbSet<FollowRunRow> FollowRuns => Set<FollowRunRow>();
    public DbSet<BookingRow> Bookings => Set<BookingRow>();
    public DbSet<TalkWordRow> TalkWords => Set<TalkWordRow>();
    public DbSet<LeadRow> Leads => Set<LeadRow>();
    public DbSet<LeadYesRow> LeadYeses => Set<LeadYesRow>();
    public DbSet<LeadMailRow> LeadMails => Set<LeadMailRow>();
    public DbSet<PromiseRow> Promises => Set<PromiseRow>();
    public DbSet<CodePoolRow> CodePools => Set<CodePoolRow>();
    public DbSet<CodeRow> Codes => Set<CodeRow>();
    public DbSet<WebhookRow> Webhooks => Set<WebhookRow>();
    public DbSet<WebhookMessageRow> WebhookMessages => Set<WebhookMessageRow>();
    public DbSet<RewardFileRow> RewardFiles => Set<RewardFileRow>();
    public DbSet<TalkFileRow> TalkFiles => Set<TalkFileRow>();
    public DbSet<SavedReplyRow> SavedReplies => Set<SavedReplyRow>();
    public DbSet<BackupRow> Backups => Set<BackupRow>();

    public DbSet<VisitorRow> Visitors => Set<VisitorRow>();
    public DbSet<PictureRow> Pictures => Set<PictureRow>();
    public DbSet<PointRow> Points => Set<PointRow>();
    public DbSet<DataProtectionKey> DataProtectionKeys => Set<DataProtectionKey>();

    private Guid WorkspaceId => scope.WorkspaceId;

    /// <summary>The workspace whose rows are seen; empty for none, or for all.</summary>
    public Guid CurrentWorkspace => scope.WorkspaceId;

    private bool Everything => scope.Everything;

    /// <summary>Options for a connection, the same for the host, the seed and the tests.</summary>
    public static void Configure(DbContextOptionsBuilder options, string connection)
    {
        options.UseNpgsql(connection, o => o.UseNodaTime()).UseSnakeCaseNamingConvention();
        // The tables of members have one shape, whether or not a host with its settings stands behind the context.
        if (options.Options.FindExtension<CoreOptionsExtension>()?.ApplicationServiceProvider is null)
            options.UseApplicationServiceProvider(WithPasskeys);
    }

    /// <summary>The version of Identity's tables that has passkeys.</summary>
    public static void UseSchema(IdentityOptions options) =>
        options.Stores.SchemaVersion = IdentitySchemaVersions.Version3;

    private static readonly ServiceProvider WithPasskeys = new ServiceCollection()
        .Configure<IdentityOptions>(UseSchema)
        .BuildServiceProvider();

    protected override void OnModelCreating(ModelBuilder builder)
    {
        base.OnModelCreating(builder);
        NameIdentityTables(builder);
        builder.Entity<WorkspaceRow>(e =>
        {
            e.ToTable("workspaces");
            e.Property(w => w.Habits).IsJson();
            e.Property(w => w.Limits).IsJson();
        });
        MapTeam(builder);
        builder.Entity<MembershipRow>(e =>
        {
            e.ToTable("memberships");
            e.HasKey(m => new { m.WorkspaceId, m.MemberId });
            e.HasIndex(m => m.MemberId);
            e.Property(m => m.Role).HasConversion<string>();
            e.HasOne<Member>().WithMany().HasForeignKey(m => m.MemberId);
        });
        builder.Entity<LetterRow>(e =>
        {
            e.ToTable("letters");
            e.HasIndex(l => l.NextAt);
            e.HasIndex(l => new
                {
                    l.SiteId,
                    l.About,
                    l.To,
                })
                .IsUnique();
        });
        builder.Entity<SessionRow>(e =>
        {
            e.ToTable("sessions");
            e.HasIndex(s => s.MemberId);
            e.HasOne<Member>().WithMany().HasForeignKey(s => s.MemberId);
        });
        builder.Entity<SiteRow>(e =>
        {
            e.ToTable("sites");
            e.HasIndex(s => s.Key).IsUnique();
            e.Property(s => s.Rules).IsJson();
            e.Property(s => s.Kit).IsJson();
            e.Property(s => s.Nouns).IsJson();
            e.Property(s => s.OwnWords).IsJson();
            e.Property(s => s.Keeps).IsJson();
            e.Property(s => s.Words).IsJson();
            e.Property(s => s.Consent).HasConversion<string>();
        });
        builder.Entity<SegmentRow>(e =>
        {
            e.ToTable("segments");
            e.HasIndex(s => new { s.SiteId, s.Name }).IsUnique().HasDatabaseName(SegmentNameIndex);
            e.Property(s => s.Rule).IsJson();
        });
        builder.Entity<PageGroupRow>(e =>
        {
            e.ToTable("page_groups");
            e.HasIndex(g => new { g.SiteId, g.Position });
            e.HasIndex(g => new { g.SiteId, g.Name }).IsUnique().HasDatabaseName(GroupNameIndex);
        });
        builder.Entity<SourceRow>(e =>
        {
            e.ToTable("sources");
            e.HasIndex(s => s.SiteId);
            e.Property(s => s.Kind).HasConversion<string>();
            e.Property(s => s.EventKind).HasConversion<string>();
            e.Property(s => s.Proof).HasConversion<string>().HasDefaultValue(PostingProof.Signature);
            e.Property(s => s.Form).IsJson();
            e.Property(s => s.Display).IsJson();
            e.Property(s => s.Map).IsJson();
            e.Property(s => s.Rules).IsJson();
            e.Property(s => s.Poll).IsJson();
            e.Property(s => s.Script).IsJson();
        });
        builder.Entity<EventRow>(e =>
        {
            e.ToTable("events");
            e.HasIndex(x => new { x.SourceId, x.ExternalId }).IsUnique().HasDatabaseName(EventOnceIndex);
            e.HasIndex(x => new { x.SourceId, x.DeliveryId }).IsUnique();
            e.HasIndex(x => new
            {
                x.SiteId,
                x.At,
                x.Id,
            });
            e.Property(x => x.Kind).HasConversion<string>();
            e.Property(x => x.State).HasConversion<string>();
            e.Property(x => x.Fields).IsJson();
            e.Property(x => x.DeletedFrom).HasConversion<string>();
            // Without the site: beside the index by site and time, whose statistics lag behind what is coming in, it would lose.
            e.HasIndex(x => new { x.PersonKey, x.At });
            e.HasIndex(x => new { x.SiteId, x.PhoneKey }).HasFilter("phone_key is not null");
            e.HasIndex(x => x.DeletedAt).HasFilter("deleted_at is not null");
            e.HasIndex(x => new
                {
                    x.SourceId,
                    x.At,
                    x.Id,
                })
                .HasDatabaseName("ix_events_source_at");
            e.HasIndex(x => new
                {
                    x.SiteId,
                    x.State,
                    x.At,
                })
                .HasFilter("state <> 'Usable'")
                .HasDatabaseName("ix_events_unusual");
            e.HasGeneratedTsVectorColumn(
                    x => x.Search,
                    "simple",
                    x => new
                    {
                        x.FirstName,
                        x.City,
                        x.Country,
                        x.ProductName,
                        x.ProductCategory,
                        x.Page,
                    }
                )
                .HasIndex(x => x.Search)
                .HasMethod("gin");
        });
        MapListening(builder);
        TalkMaps.Map(builder);
        LeadMaps.Map(builder);
        builder.Entity<DefinitionRow>(e =>
        {
            e.ToTable("definitions");
            e.HasIndex(d => new { d.SiteId, d.Kind });
            e.Property(d => d.State).HasConversion<string>();
            e.Property(d => d.Draft).IsKeptContent();
            e.Property(d => d.DraftVersion).IsConcurrencyToken();
        });
        builder.Entity<RevisionRow>(e =>
        {
            e.ToTable("revisions");
            e.HasIndex(r => new { r.DefinitionId, r.Number }).IsUnique();
            e.Property(r => r.Content).IsKeptContent();
            e.HasOne<DefinitionRow>().WithMany().HasForeignKey(r => r.DefinitionId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<PictureRow>(e =>
        {
            e.ToTable("pictures");
            e.HasIndex(p => new { p.SiteId, p.Hash }).IsUnique();
        });
        builder.Entity<PointRow>(e =>
        {
            e.ToTable("points");
            e.HasIndex(p => new { p.SiteId, p.At });
        });
        builder.Entity<DataProtectionKey>().ToTable("data_protection_keys");
        FilterByWorkspace(builder);
    }

    private static void MapListening(ModelBuilder builder)
    {
        builder.Entity<PlaceRow>(e =>
        {
            e.ToTable("places");
            e.HasKey(p => new
            {
                p.SiteId,
                p.Path,
                p.Selector,
            });
        });
        builder.Entity<HeardHostRow>(e =>
        {
            e.ToTable("heard_hosts");
            e.HasKey(h => new { h.SiteId, h.Host });
        });
        builder.Entity<DeliveryRow>(e =>
        {
            e.ToTable("deliveries");
            e.HasIndex(d => new { d.SourceId, d.At });
            e.HasIndex(d => d.EventId);
            e.Property(d => d.Verdict).HasConversion<string>();
        });
        builder.Entity<FoundFormRow>(e =>
        {
            e.ToTable("found_forms");
            e.HasKey(f => new
            {
                f.SiteId,
                f.Key,
                f.Path,
            });
            e.Property(f => f.Fields).IsJson();
        });
        builder.Entity<FormSendRow>(e =>
        {
            e.ToTable("form_sends");
            e.HasIndex(f => new
            {
                f.SiteId,
                f.Key,
                f.At,
            });
        });
        builder.Entity<ShopRow>(e =>
        {
            e.ToTable("shops");
            e.HasKey(s => s.SiteId);
        });
        builder.Entity<CorrectionRow>(e =>
        {
            e.ToTable("corrections");
            e.HasIndex(c => c.EventId);
        });
        builder.Entity<ImportRow>(e =>
        {
            e.ToTable("imports");
            e.HasIndex(i => new { i.SiteId, i.StartedAt });
            e.Property(i => i.State).HasConversion<string>();
        });
        builder.Entity<RejectRow>(e =>
        {
            e.ToTable("rejects");
            e.HasKey(r => new { r.ImportId, r.Row });
        });
        builder.Entity<SavedViewRow>(e =>
        {
            e.ToTable("saved_views");
            e.HasIndex(v => new { v.SiteId, v.Name }).IsUnique();
        });
        builder.Entity<ErasureRow>(e =>
        {
            e.ToTable("erasures");
            e.HasIndex(x => new { x.SiteId, x.At });
        });
        builder.Entity<TombstoneRow>(e =>
        {
            e.ToTable("tombstones");
            e.HasKey(t => new { t.SiteId, t.Key });
        });
        builder.Entity<VisitorRow>(e =>
        {
            e.ToTable("visitors");
            e.HasKey(v => new { v.SiteId, v.VisitorId });
            e.HasIndex(v => new { v.SiteId, v.EmailKey });
            e.Property(v => v.Attributes).IsJson();
        });
    }

    /// <summary>The unique index that lets a site have a segment's name once.</summary>
    public const string SegmentNameIndex = "ix_segments_name";

    /// <summary>The unique index that lets a site have a page group's name once.</summary>
    public const string GroupNameIndex = "ix_page_groups_name";

    /// <summary>The unique index that lets an event in once.</summary>
    public const string EventOnceIndex = "ix_events_once";

    private void FilterByWorkspace(ModelBuilder builder)
    {
        foreach (
            var type in builder.Model.GetEntityTypes().Where(t => typeof(IWorkspaceOwned).IsAssignableFrom(t.ClrType))
        )
        {
            var row = Expression.Parameter(type.ClrType, "row");
            var context = Expression.Constant(this);
            var own = Expression.Equal(
                Expression.Property(row, nameof(IWorkspaceOwned.WorkspaceId)),
                Expression.Property(context, nameof(WorkspaceId))
            );
            var seen = Expression.OrElse(Expression.Property(context, nameof(Everything)), own);
            builder.Entity(type.ClrType).HasQueryFilter(Expression.Lambda(seen, row));
        }
    }

    private static void NameIdentityTables(ModelBuilder builder)
    {
        builder.Entity<Member>().ToTable("members");
        builder.Entity<IdentityRole<Guid>>().ToTable("identity_roles");
        builder.Entity<IdentityUserRole<Guid>>().ToTable("identity_member_roles");
        builder.Entity<IdentityUserClaim<Guid>>().ToTable("identity_member_claims");
        builder.Entity<IdentityUserLogin<Guid>>().ToTable("identity_member_logins");
        builder.Entity<IdentityUserToken<Guid>>().ToTable("identity_member_tokens");
        builder.Entity<IdentityRoleClaim<Guid>>().ToTable("identity_role_claims");
        builder.Entity<IdentityUserPasskey<Guid>>().ToTable("identity_member_passkeys");
    }

    private static void MapTeam(ModelBuilder builder)
    {
        builder.Entity<DeviceRow>(e =>
        {
            e.ToTable("devices");
            e.HasKey(d => new { d.MemberId, d.Hash });
            e.HasOne<Member>().WithMany().HasForeignKey(d => d.MemberId);
        });
        builder.Entity<InvitationRow>(e =>
        {
            e.ToTable("invitations");
            e.HasIndex(i => i.Hash).IsUnique();
            // Asked twice is asked anew: one link for one address.
            e.HasIndex(i => new { i.WorkspaceId, i.Email }).IsUnique();
            e.Property(i => i.Role).HasConversion<string>();
        });
        builder.Entity<TokenRow>(e =>
        {
            e.ToTable("tokens");
            e.HasIndex(t => t.Hash).IsUnique();
            e.Property(t => t.Scopes).IsJson();
        });
        builder.Entity<ReviewRow>(e =>
        {
            e.ToTable("reviews");
            e.HasIndex(r => new { r.SiteId, r.State });
            // One open review for one draft.
            e.HasIndex(r => r.DefinitionId).IsUnique().HasFilter("state in ('Asked', 'Approved')");
            e.Property(r => r.State).HasConversion<string>();
            e.Property(r => r.Notes).IsJson();
        });
        builder.Entity<BackupRow>().ToTable("backups");
        builder.Entity<TraceRow>(e =>
        {
            e.ToTable("traces");
            e.HasIndex(t => new { t.WorkspaceId, t.Id });
            e.Property(t => t.Changes).IsJson();
        });
    }
}
