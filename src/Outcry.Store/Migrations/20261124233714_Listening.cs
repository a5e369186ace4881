using System;
using System.Collections.Generic;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;
using NpgsqlTypes;

#nullable disable

namespace Outcry.Store.Migrations
{
    /// <summary>More ways in, what was delivered, corrections, imports, erasures, and what a site keeps and asks.</summary>
    public partial class Listening : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Instant>(
                name: "deleted_at",
                table: "sources",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(name: "map", table: "sources", type: "jsonb", nullable: true);

            migrationBuilder.AddColumn<Instant>(
                name: "paused_at",
                table: "sources",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(name: "poll", table: "sources", type: "jsonb", nullable: true);

            migrationBuilder.AddColumn<Instant>(
                name: "polled_at",
                table: "sources",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(name: "previous_secret", table: "sources", type: "text", nullable: true);

            migrationBuilder.AddColumn<Instant>(
                name: "previous_secret_until",
                table: "sources",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "rules",
                table: "sources",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{\"conditions\":[],\"join\":\"all\",\"holdsAll\":false,\"leastStars\":0}'"
            );

            migrationBuilder.AddColumn<string>(name: "script", table: "sources", type: "jsonb", nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "consent",
                table: "sites",
                type: "text",
                nullable: false,
                defaultValueSql: "'AtOnce'"
            );

            migrationBuilder.AddColumn<Instant>(
                name: "fetched_at",
                table: "sites",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(name: "fetched_from", table: "sites", type: "text", nullable: true);

            migrationBuilder.AddColumn<byte[]>(
                name: "identity_secret",
                table: "sites",
                type: "bytea",
                nullable: false,
                defaultValueSql: "sha256(uuid_send(gen_random_uuid()) || uuid_send(gen_random_uuid()))"
            );

            migrationBuilder.AddColumn<string>(
                name: "keeps",
                table: "sites",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{\"eventDays\":730,\"visitDays\":90,\"deliveryDays\":7,\"visitorDays\":180}'"
            );

            migrationBuilder.AddColumn<string>(
                name: "language",
                table: "sites",
                type: "text",
                nullable: false,
                defaultValueSql: "'en'"
            );

            migrationBuilder.AddColumn<string>(
                name: "nouns",
                table: "sites",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{}'"
            );

            migrationBuilder.AddColumn<Instant>(
                name: "refused_at",
                table: "sites",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(name: "refused_host", table: "sites", type: "text", nullable: true);

            migrationBuilder.AddColumn<List<string>>(
                name: "test_hosts",
                table: "sites",
                type: "text[]",
                nullable: false,
                defaultValueSql: "'{}'"
            );

            migrationBuilder.AddColumn<string>(
                name: "words",
                table: "sites",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{\"languages\":[\"en\"],\"added\":[],\"takenOut\":[]}'"
            );

            migrationBuilder.AddColumn<Instant>(
                name: "corrected_at",
                table: "events",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(name: "corrected_by", table: "events", type: "text", nullable: true);

            migrationBuilder.AddColumn<Instant>(
                name: "deleted_at",
                table: "events",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(name: "deleted_by", table: "events", type: "text", nullable: true);

            migrationBuilder.AddColumn<string>(name: "deleted_from", table: "events", type: "text", nullable: true);

            migrationBuilder.AddColumn<string>(name: "held_because", table: "events", type: "text", nullable: true);

            migrationBuilder.AddColumn<Guid>(name: "import_id", table: "events", type: "uuid", nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "masked_phone",
                table: "events",
                type: "text",
                nullable: false,
                defaultValue: ""
            );

            migrationBuilder.AddColumn<string>(name: "phone_key", table: "events", type: "text", nullable: true);

            // What members try on test hosts is kept apart from what visitors do.
            migrationBuilder.Sql("alter table signals add column is_test boolean not null default false;");

            migrationBuilder
                .AddColumn<NpgsqlTsVector>(name: "search", table: "events", type: "tsvector", nullable: false)
                .Annotation("Npgsql:TsVectorConfig", "simple")
                .Annotation(
                    "Npgsql:TsVectorProperties",
                    new[] { "first_name", "city", "country", "product_name", "product_category", "page" }
                );

            migrationBuilder.CreateTable(
                name: "corrections",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    event_id = table.Column<Guid>(type: "uuid", nullable: false),
                    field = table.Column<string>(type: "text", nullable: false),
                    was = table.Column<string>(type: "text", nullable: false),
                    @is = table.Column<string>(name: "is", type: "text", nullable: false),
                    by = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_corrections", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "deliveries",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    source_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    verdict = table.Column<string>(type: "text", nullable: false),
                    status = table.Column<int>(type: "integer", nullable: false),
                    because = table.Column<string>(type: "text", nullable: true),
                    message_id = table.Column<string>(type: "text", nullable: true),
                    content_type = table.Column<string>(type: "text", nullable: true),
                    sealed_body = table.Column<byte[]>(type: "bytea", nullable: false),
                    event_id = table.Column<Guid>(type: "uuid", nullable: true),
                    resend_of = table.Column<Guid>(type: "uuid", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_deliveries", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "erasures",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    by = table.Column<string>(type: "text", nullable: false),
                    found_by = table.Column<string>(type: "text", nullable: false),
                    events = table.Column<int>(type: "integer", nullable: false),
                    visitors = table.Column<int>(type: "integer", nullable: false),
                    deliveries = table.Column<int>(type: "integer", nullable: false),
                    digest = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_erasures", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "found_forms",
                columns: table => new
                {
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    path = table.Column<string>(type: "text", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    fields = table.Column<string>(type: "jsonb", nullable: false),
                    first_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    last_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey(
                        "pk_found_forms",
                        x => new
                        {
                            x.site_id,
                            x.key,
                            x.path,
                        }
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "heard_hosts",
                columns: table => new
                {
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    host = table.Column<string>(type: "text", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    heard_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    page = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_heard_hosts", x => new { x.site_id, x.host });
                }
            );

            migrationBuilder.CreateTable(
                name: "imports",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    source_id = table.Column<Guid>(type: "uuid", nullable: false),
                    file_name = table.Column<string>(type: "text", nullable: false),
                    started_by = table.Column<string>(type: "text", nullable: false),
                    started_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    ended_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    state = table.Column<string>(type: "text", nullable: false),
                    is_dry_run = table.Column<bool>(type: "boolean", nullable: false),
                    read = table.Column<int>(type: "integer", nullable: false),
                    added = table.Column<int>(type: "integer", nullable: false),
                    repeated = table.Column<int>(type: "integer", nullable: false),
                    held = table.Column<int>(type: "integer", nullable: false),
                    left_out = table.Column<int>(type: "integer", nullable: false),
                    rejected = table.Column<int>(type: "integer", nullable: false),
                    because = table.Column<string>(type: "text", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_imports", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "rejects",
                columns: table => new
                {
                    import_id = table.Column<Guid>(type: "uuid", nullable: false),
                    row = table.Column<int>(type: "integer", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    field = table.Column<string>(type: "text", nullable: false),
                    because = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_rejects", x => new { x.import_id, x.row });
                }
            );

            migrationBuilder.CreateTable(
                name: "saved_views",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    query = table.Column<string>(type: "text", nullable: false),
                    by = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_saved_views", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "visitors",
                columns: table => new
                {
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    visitor_id = table.Column<string>(type: "text", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    first_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    last_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    attributes = table.Column<string>(type: "jsonb", nullable: false),
                    is_signed = table.Column<bool>(type: "boolean", nullable: false),
                    email_key = table.Column<string>(type: "text", nullable: true),
                    phone_key = table.Column<string>(type: "text", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_visitors", x => new { x.site_id, x.visitor_id });
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_events_deleted_at",
                table: "events",
                column: "deleted_at",
                filter: "deleted_at is not null"
            );

            migrationBuilder
                .CreateIndex(name: "ix_events_search", table: "events", column: "search")
                .Annotation("Npgsql:IndexMethod", "gin");

            migrationBuilder.CreateIndex(
                name: "ix_events_person_key_at",
                table: "events",
                columns: new[] { "person_key", "at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_events_site_id_phone_key",
                table: "events",
                columns: new[] { "site_id", "phone_key" },
                filter: "phone_key is not null"
            );

            migrationBuilder.CreateIndex(
                name: "ix_events_source_at",
                table: "events",
                columns: new[] { "source_id", "at", "id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_events_unusual",
                table: "events",
                columns: new[] { "site_id", "state", "at" },
                filter: "state <> 'Usable'"
            );

            migrationBuilder.CreateIndex(name: "ix_corrections_event_id", table: "corrections", column: "event_id");

            migrationBuilder.CreateIndex(name: "ix_deliveries_event_id", table: "deliveries", column: "event_id");

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_source_id_at",
                table: "deliveries",
                columns: new[] { "source_id", "at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_erasures_site_id_at",
                table: "erasures",
                columns: new[] { "site_id", "at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_imports_site_id_started_at",
                table: "imports",
                columns: new[] { "site_id", "started_at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_saved_views_site_id_name",
                table: "saved_views",
                columns: new[] { "site_id", "name" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_visitors_site_id_email_key",
                table: "visitors",
                columns: new[] { "site_id", "email_key" }
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("alter table signals drop column is_test;");

            migrationBuilder.DropTable(name: "corrections");

            migrationBuilder.DropTable(name: "deliveries");

            migrationBuilder.DropTable(name: "erasures");

            migrationBuilder.DropTable(name: "found_forms");

            migrationBuilder.DropTable(name: "heard_hosts");

            migrationBuilder.DropTable(name: "imports");

            migrationBuilder.DropTable(name: "rejects");

            migrationBuilder.DropTable(name: "saved_views");

            migrationBuilder.DropTable(name: "visitors");

            migrationBuilder.DropIndex(name: "ix_events_deleted_at", table: "events");

            migrationBuilder.DropIndex(name: "ix_events_search", table: "events");

            migrationBuilder.DropIndex(name: "ix_events_person_key_at", table: "events");

            migrationBuilder.DropIndex(name: "ix_events_site_id_phone_key", table: "events");

            migrationBuilder.DropIndex(name: "ix_events_source_at", table: "events");

            migrationBuilder.DropIndex(name: "ix_events_unusual", table: "events");

            migrationBuilder.DropColumn(name: "deleted_at", table: "sources");

            migrationBuilder.DropColumn(name: "map", table: "sources");

            migrationBuilder.DropColumn(name: "paused_at", table: "sources");

            migrationBuilder.DropColumn(name: "poll", table: "sources");

            migrationBuilder.DropColumn(name: "polled_at", table: "sources");

            migrationBuilder.DropColumn(name: "previous_secret", table: "sources");

            migrationBuilder.DropColumn(name: "previous_secret_until", table: "sources");

            migrationBuilder.DropColumn(name: "rules", table: "sources");

            migrationBuilder.DropColumn(name: "script", table: "sources");

            migrationBuilder.DropColumn(name: "consent", table: "sites");

            migrationBuilder.DropColumn(name: "fetched_at", table: "sites");

            migrationBuilder.DropColumn(name: "fetched_from", table: "sites");

            migrationBuilder.DropColumn(name: "identity_secret", table: "sites");

            migrationBuilder.DropColumn(name: "keeps", table: "sites");

            migrationBuilder.DropColumn(name: "language", table: "sites");

            migrationBuilder.DropColumn(name: "nouns", table: "sites");

            migrationBuilder.DropColumn(name: "refused_at", table: "sites");

            migrationBuilder.DropColumn(name: "refused_host", table: "sites");

            migrationBuilder.DropColumn(name: "test_hosts", table: "sites");

            migrationBuilder.DropColumn(name: "words", table: "sites");

            migrationBuilder.DropColumn(name: "corrected_at", table: "events");

            migrationBuilder.DropColumn(name: "corrected_by", table: "events");

            migrationBuilder.DropColumn(name: "deleted_at", table: "events");

            migrationBuilder.DropColumn(name: "deleted_by", table: "events");

            migrationBuilder.DropColumn(name: "deleted_from", table: "events");

            migrationBuilder.DropColumn(name: "held_because", table: "events");

            migrationBuilder.DropColumn(name: "import_id", table: "events");

            migrationBuilder.DropColumn(name: "masked_phone", table: "events");

            migrationBuilder.DropColumn(name: "phone_key", table: "events");

            migrationBuilder.DropColumn(name: "search", table: "events");
        }
    }
}
