using System;
using System.Collections.Generic;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;
using NpgsqlTypes;

#nullable disable

namespace Outcry.Store.Migrations
{
    /// <inheritdoc />
    public partial class Talks : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "saved_replies",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    shortcut = table.Column<string>(type: "text", nullable: false),
                    text = table.Column<string>(type: "text", nullable: false),
                    changed_by = table.Column<string>(type: "text", nullable: false),
                    changed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_saved_replies", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "talks",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    visitor_id = table.Column<string>(type: "text", nullable: false),
                    launcher_id = table.Column<Guid>(type: "uuid", nullable: false),
                    channel_id = table.Column<Guid>(type: "uuid", nullable: false),
                    before_id = table.Column<Guid>(type: "uuid", nullable: true),
                    is_test = table.Column<bool>(type: "boolean", nullable: false),
                    key_hashes = table.Column<List<byte[]>>(type: "bytea[]", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    member_id = table.Column<Guid>(type: "uuid", nullable: true),
                    snoozed_until = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    closed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    reason = table.Column<string>(type: "text", nullable: false),
                    waiting_since = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    given_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    alarmed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    begun_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    last_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    answered_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    last = table.Column<int>(type: "integer", nullable: false),
                    seen_by_visitor = table.Column<int>(type: "integer", nullable: false),
                    seen_by_team = table.Column<int>(type: "integer", nullable: false),
                    mailed_up_to = table.Column<int>(type: "integer", nullable: false),
                    glimpse = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    email = table.Column<string>(type: "text", nullable: true),
                    agreed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    language = table.Column<string>(type: "text", nullable: false),
                    page = table.Column<string>(type: "text", nullable: false),
                    greeting = table.Column<string>(type: "text", nullable: false),
                    place = table.Column<string>(type: "text", nullable: false),
                    tags = table.Column<List<string>>(type: "text[]", nullable: false),
                    is_blocked = table.Column<bool>(type: "boolean", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_talks", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "talk_words",
                columns: table => new
                {
                    talk_id = table.Column<Guid>(type: "uuid", nullable: false),
                    number = table.Column<int>(type: "integer", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    by = table.Column<string>(type: "text", nullable: false),
                    @for = table.Column<string>(name: "for", type: "text", nullable: false),
                    member_id = table.Column<Guid>(type: "uuid", nullable: true),
                    name = table.Column<string>(type: "text", nullable: false),
                    text = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    mentions = table.Column<List<Guid>>(type: "uuid[]", nullable: false),
                    searched_as = table.Column<string>(type: "text", nullable: false),
                    search = table.Column<NpgsqlTsVector>(
                        type: "tsvector",
                        nullable: false,
                        computedColumnSql: "case searched_as when 'arabic' then to_tsvector('arabic', text) when 'catalan' then to_tsvector('catalan', text) when 'danish' then to_tsvector('danish', text) when 'dutch' then to_tsvector('dutch', text) when 'english' then to_tsvector('english', text) when 'finnish' then to_tsvector('finnish', text) when 'french' then to_tsvector('french', text) when 'german' then to_tsvector('german', text) when 'greek' then to_tsvector('greek', text) when 'hungarian' then to_tsvector('hungarian', text) when 'italian' then to_tsvector('italian', text) when 'norwegian' then to_tsvector('norwegian', text) when 'portuguese' then to_tsvector('portuguese', text) when 'romanian' then to_tsvector('romanian', text) when 'russian' then to_tsvector('russian', text) when 'simple' then to_tsvector('simple', text) when 'spanish' then to_tsvector('spanish', text) when 'swedish' then to_tsvector('swedish', text) when 'turkish' then to_tsvector('turkish', text) else to_tsvector('simple', text) end",
                        stored: true
                    ),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_talk_words", x => new { x.talk_id, x.number });
                    table.ForeignKey(
                        name: "fk_talk_words_talks_talk_id",
                        column: x => x.talk_id,
                        principalTable: "talks",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_saved_replies_site_id_shortcut",
                table: "saved_replies",
                columns: new[] { "site_id", "shortcut" },
                unique: true
            );

            migrationBuilder
                .CreateIndex(name: "ix_talk_words_search", table: "talk_words", column: "search")
                .Annotation("Npgsql:IndexMethod", "gin");

            migrationBuilder.CreateIndex(
                name: "ix_talk_words_talk_id_id",
                table: "talk_words",
                columns: new[] { "talk_id", "id" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_talks_site_id_state_last_at",
                table: "talks",
                columns: new[] { "site_id", "state", "last_at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_talks_site_id_visitor_id",
                table: "talks",
                columns: new[] { "site_id", "visitor_id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_talks_snoozed_until",
                table: "talks",
                column: "snoozed_until",
                filter: "snoozed_until is not null"
            );

            migrationBuilder.CreateIndex(
                name: "ix_talks_waiting_since",
                table: "talks",
                column: "waiting_since",
                filter: "waiting_since is not null"
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "saved_replies");

            migrationBuilder.DropTable(name: "talk_words");

            migrationBuilder.DropTable(name: "talks");
        }
    }
}
