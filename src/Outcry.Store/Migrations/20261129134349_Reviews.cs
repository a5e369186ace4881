using System;
using System.Collections.Generic;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace Outcry.Store.Migrations
{
    /// <inheritdoc />
    public partial class Reviews : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<List<Guid>>(
                name: "authors",
                table: "definitions",
                type: "uuid[]",
                nullable: false,
                // Who wrote at what was there before is not known.
                defaultValueSql: "'{}'"
            );

            migrationBuilder.CreateTable(
                name: "backups",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    bytes = table.Column<long>(type: "bigint", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_backups", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "reviews",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    definition_id = table.Column<Guid>(type: "uuid", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    asked_by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    asked_by = table.Column<string>(type: "text", nullable: false),
                    of_id = table.Column<Guid>(type: "uuid", nullable: true),
                    sentence = table.Column<string>(type: "text", nullable: false),
                    asked_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    decided_by = table.Column<string>(type: "text", nullable: true),
                    decided_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                    decided_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    approved_version = table.Column<int>(type: "integer", nullable: true),
                    undone_by = table.Column<string>(type: "text", nullable: true),
                    notes = table.Column<string>(type: "jsonb", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_reviews", x => x.id);
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_reviews_definition_id",
                table: "reviews",
                column: "definition_id",
                unique: true,
                filter: "state in ('Asked', 'Approved')"
            );

            migrationBuilder.CreateIndex(
                name: "ix_reviews_site_id_state",
                table: "reviews",
                columns: new[] { "site_id", "state" }
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "backups");

            migrationBuilder.DropTable(name: "reviews");

            migrationBuilder.DropColumn(name: "authors", table: "definitions");
        }
    }
}
