using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace Outcry.Store.Migrations
{
    /// <inheritdoc />
    public partial class Desk : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Instant>(
                name: "switched_at",
                table: "sites",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(name: "switched_by", table: "sites", type: "text", nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "group",
                table: "callouts",
                type: "text",
                nullable: false,
                defaultValue: ""
            );

            migrationBuilder.CreateTable(
                name: "pictures",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    media_type = table.Column<string>(type: "text", nullable: false),
                    width = table.Column<int>(type: "integer", nullable: false),
                    height = table.Column<int>(type: "integer", nullable: false),
                    is_moving = table.Column<bool>(type: "boolean", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false),
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    fetched_from = table.Column<string>(type: "text", nullable: true),
                    added_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    added_by = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_pictures", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "points",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    selector = table.Column<string>(type: "text", nullable: false),
                    label = table.Column<string>(type: "text", nullable: false),
                    path = table.Column<string>(type: "text", nullable: false),
                    matches = table.Column<int>(type: "integer", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_points", x => x.id);
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_page_groups_name",
                table: "page_groups",
                columns: new[] { "site_id", "name" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_pictures_site_id_hash",
                table: "pictures",
                columns: new[] { "site_id", "hash" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_points_site_id_at",
                table: "points",
                columns: new[] { "site_id", "at" }
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "pictures");

            migrationBuilder.DropTable(name: "points");

            migrationBuilder.DropIndex(name: "ix_page_groups_name", table: "page_groups");

            migrationBuilder.DropColumn(name: "switched_at", table: "sites");

            migrationBuilder.DropColumn(name: "switched_by", table: "sites");

            migrationBuilder.DropColumn(name: "group", table: "callouts");
        }
    }
}
