using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace Outcry.Store.Migrations
{
    /// <inheritdoc />
    public partial class Strangers : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.RenameColumn(name: "signing_key", table: "sites", newName: "person_key");

            migrationBuilder.AddColumn<byte[]>(
                name: "link_key",
                table: "sites",
                type: "bytea",
                nullable: false,
                defaultValue: new byte[0]
            );

            migrationBuilder.AddColumn<byte[]>(
                name: "passport_key",
                table: "sites",
                type: "bytea",
                nullable: false,
                defaultValue: new byte[0]
            );

            // Keys of chance for the sites that are there: two random UUIDs have 244 bits of it. The old key goes on hashing people.
            migrationBuilder.Sql(
                """
                update sites set
                  link_key = uuid_send(gen_random_uuid()) || uuid_send(gen_random_uuid()),
                  passport_key = uuid_send(gen_random_uuid()) || uuid_send(gen_random_uuid());
                alter table sites alter column link_key drop default, alter column passport_key drop default;
                alter table signals add column host text null, add column query text null;
                """
            );

            migrationBuilder.CreateTable(
                name: "sessions",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    member_id = table.Column<Guid>(type: "uuid", nullable: false),
                    started_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sessions", x => x.id);
                    table.ForeignKey(
                        name: "fk_sessions_members_member_id",
                        column: x => x.member_id,
                        principalTable: "members",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "tombstones",
                columns: table => new
                {
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_tombstones", x => new { x.site_id, x.key });
                }
            );

            migrationBuilder.CreateIndex(name: "ix_sessions_member_id", table: "sessions", column: "member_id");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("alter table signals drop column host, drop column query;");

            migrationBuilder.DropTable(name: "sessions");

            migrationBuilder.DropTable(name: "tombstones");

            migrationBuilder.DropColumn(name: "link_key", table: "sites");

            migrationBuilder.DropColumn(name: "passport_key", table: "sites");

            migrationBuilder.RenameColumn(name: "person_key", table: "sites", newName: "signing_key");
        }
    }
}
