using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace Outcry.Store.Migrations
{
    /// <inheritdoc />
    public partial class Shops : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Instant>(
                name: "removed_at",
                table: "sites",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(name: "removed_by", table: "sites", type: "text", nullable: true);

            migrationBuilder.CreateTable(
                name: "form_sends",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    page = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    visitor_id = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_form_sends", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "shops",
                columns: table => new
                {
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    created_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    name = table.Column<string>(type: "text", nullable: true),
                    connected_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    heard_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    refused_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    refused_because = table.Column<string>(type: "text", nullable: true),
                    orders_id = table.Column<Guid>(type: "uuid", nullable: true),
                    stock_id = table.Column<Guid>(type: "uuid", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_shops", x => x.site_id);
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_form_sends_site_id_key_at",
                table: "form_sends",
                columns: new[] { "site_id", "key", "at" }
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "form_sends");

            migrationBuilder.DropTable(name: "shops");

            migrationBuilder.DropColumn(name: "removed_at", table: "sites");

            migrationBuilder.DropColumn(name: "removed_by", table: "sites");
        }
    }
}
