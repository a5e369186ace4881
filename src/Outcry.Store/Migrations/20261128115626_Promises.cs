using System;
using System.Collections.Generic;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace Outcry.Store.Migrations
{
    /// <inheritdoc />
    public partial class Promises : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<List<string>>(
                name: "words_due",
                table: "sites",
                type: "text[]",
                nullable: false,
                defaultValueSql: "'{}'"
            );

            migrationBuilder.AddColumn<Guid>(name: "words_due_after", table: "sites", type: "uuid", nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "original",
                table: "rejects",
                type: "text",
                nullable: false,
                defaultValue: ""
            );

            migrationBuilder.CreateTable(
                name: "places",
                columns: table => new
                {
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    path = table.Column<string>(type: "text", nullable: false),
                    selector = table.Column<string>(type: "text", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    found = table.Column<bool>(type: "boolean", nullable: false),
                    in_view = table.Column<bool>(type: "boolean", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey(
                        "pk_places",
                        x => new
                        {
                            x.site_id,
                            x.path,
                            x.selector,
                        }
                    );
                }
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "places");

            migrationBuilder.DropColumn(name: "words_due", table: "sites");

            migrationBuilder.DropColumn(name: "words_due_after", table: "sites");

            migrationBuilder.DropColumn(name: "original", table: "rejects");
        }
    }
}
