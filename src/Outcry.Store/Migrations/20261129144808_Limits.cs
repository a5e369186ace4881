using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Outcry.Store.Migrations
{
    /// <inheritdoc />
    public partial class Limits : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "limit_reached",
                table: "workspaces",
                type: "text",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(name: "limit_warned", table: "workspaces", type: "text", nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "limits",
                table: "workspaces",
                type: "jsonb",
                nullable: false,
                defaultValue: """{"visitorsAMonth":null,"calloutsLive":null,"sites":null,"atVisitors":"goOn"}"""
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(name: "limit_reached", table: "workspaces");

            migrationBuilder.DropColumn(name: "limit_warned", table: "workspaces");

            migrationBuilder.DropColumn(name: "limits", table: "workspaces");
        }
    }
}
