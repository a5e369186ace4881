using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace Outcry.Store.Migrations
{
    /// <inheritdoc />
    public partial class Team : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "habits",
                table: "workspaces",
                type: "jsonb",
                nullable: false,
                defaultValue: """{"review":"promises","factor":"nobody","awayHours":168}"""
            );

            migrationBuilder.AddColumn<string>(
                name: "device",
                table: "sessions",
                type: "text",
                nullable: false,
                defaultValue: ""
            );

            migrationBuilder.AddColumn<bool>(
                name: "had_factor",
                table: "sessions",
                type: "boolean",
                nullable: false,
                defaultValue: false
            );

            migrationBuilder.AddColumn<Instant>(
                name: "seen_at",
                table: "sessions",
                type: "timestamp with time zone",
                nullable: false,
                defaultValueSql: "now()"
            );

            migrationBuilder.AddColumn<Instant>(
                name: "joined_at",
                table: "memberships",
                type: "timestamp with time zone",
                nullable: false,
                defaultValueSql: "now()"
            );

            migrationBuilder.AlterColumn<string>(
                name: "phone_number",
                table: "members",
                type: "character varying(256)",
                maxLength: 256,
                nullable: true,
                oldClrType: typeof(string),
                oldType: "text",
                oldNullable: true
            );

            migrationBuilder.AlterColumn<string>(
                name: "name",
                table: "identity_member_tokens",
                type: "character varying(128)",
                maxLength: 128,
                nullable: false,
                oldClrType: typeof(string),
                oldType: "text"
            );

            migrationBuilder.AlterColumn<string>(
                name: "login_provider",
                table: "identity_member_tokens",
                type: "character varying(128)",
                maxLength: 128,
                nullable: false,
                oldClrType: typeof(string),
                oldType: "text"
            );

            migrationBuilder.AlterColumn<string>(
                name: "provider_key",
                table: "identity_member_logins",
                type: "character varying(128)",
                maxLength: 128,
                nullable: false,
                oldClrType: typeof(string),
                oldType: "text"
            );

            migrationBuilder.AlterColumn<string>(
                name: "login_provider",
                table: "identity_member_logins",
                type: "character varying(128)",
                maxLength: 128,
                nullable: false,
                oldClrType: typeof(string),
                oldType: "text"
            );

            migrationBuilder.CreateTable(
                name: "devices",
                columns: table => new
                {
                    member_id = table.Column<Guid>(type: "uuid", nullable: false),
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    first_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_devices", x => new { x.member_id, x.hash });
                    table.ForeignKey(
                        name: "fk_devices_members_member_id",
                        column: x => x.member_id,
                        principalTable: "members",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "identity_member_passkeys",
                columns: table => new
                {
                    credential_id = table.Column<byte[]>(type: "bytea", maxLength: 1024, nullable: false),
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                    data = table.Column<string>(type: "jsonb", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_identity_member_passkeys", x => x.credential_id);
                    table.ForeignKey(
                        name: "fk_identity_member_passkeys_members_user_id",
                        column: x => x.user_id,
                        principalTable: "members",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "invitations",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    email = table.Column<string>(type: "text", nullable: false),
                    role = table.Column<string>(type: "text", nullable: false),
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    invited_by = table.Column<string>(type: "text", nullable: false),
                    invited_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    ends_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_invitations", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "tokens",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    scopes = table.Column<string>(type: "jsonb", nullable: false),
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    begins = table.Column<string>(type: "text", nullable: false),
                    made_by = table.Column<string>(type: "text", nullable: false),
                    made_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    used_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    ended_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_tokens", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "traces",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    about_site = table.Column<Guid>(type: "uuid", nullable: true),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    member_id = table.Column<Guid>(type: "uuid", nullable: true),
                    by = table.Column<string>(type: "text", nullable: false),
                    act = table.Column<string>(type: "text", nullable: false),
                    subject = table.Column<string>(type: "text", nullable: false),
                    link = table.Column<string>(type: "text", nullable: false),
                    changes = table.Column<string>(type: "jsonb", nullable: false),
                    device = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_traces", x => x.id);
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_identity_member_passkeys_user_id",
                table: "identity_member_passkeys",
                column: "user_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_invitations_hash",
                table: "invitations",
                column: "hash",
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_invitations_workspace_id_email",
                table: "invitations",
                columns: new[] { "workspace_id", "email" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_tokens_hash", table: "tokens", column: "hash", unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_traces_workspace_id_id",
                table: "traces",
                columns: new[] { "workspace_id", "id" }
            );

            // What was done stays as it was written, whoever asks: also a desk that has been taken over.
            migrationBuilder.Sql(
                """
                create function refuse_change() returns trigger language plpgsql as $$
                begin
                  raise exception 'what was done cannot be changed afterwards';
                end $$;
                create trigger traces_stay before update or delete or truncate on traces
                  for each statement execute function refuse_change();
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("drop trigger traces_stay on traces; drop function refuse_change;");

            migrationBuilder.DropTable(name: "devices");

            migrationBuilder.DropTable(name: "identity_member_passkeys");

            migrationBuilder.DropTable(name: "invitations");

            migrationBuilder.DropTable(name: "tokens");

            migrationBuilder.DropTable(name: "traces");

            migrationBuilder.DropColumn(name: "habits", table: "workspaces");

            migrationBuilder.DropColumn(name: "device", table: "sessions");

            migrationBuilder.DropColumn(name: "had_factor", table: "sessions");

            migrationBuilder.DropColumn(name: "seen_at", table: "sessions");

            migrationBuilder.DropColumn(name: "joined_at", table: "memberships");

            migrationBuilder.AlterColumn<string>(
                name: "phone_number",
                table: "members",
                type: "text",
                nullable: true,
                oldClrType: typeof(string),
                oldType: "character varying(256)",
                oldMaxLength: 256,
                oldNullable: true
            );

            migrationBuilder.AlterColumn<string>(
                name: "name",
                table: "identity_member_tokens",
                type: "text",
                nullable: false,
                oldClrType: typeof(string),
                oldType: "character varying(128)",
                oldMaxLength: 128
            );

            migrationBuilder.AlterColumn<string>(
                name: "login_provider",
                table: "identity_member_tokens",
                type: "text",
                nullable: false,
                oldClrType: typeof(string),
                oldType: "character varying(128)",
                oldMaxLength: 128
            );

            migrationBuilder.AlterColumn<string>(
                name: "provider_key",
                table: "identity_member_logins",
                type: "text",
                nullable: false,
                oldClrType: typeof(string),
                oldType: "character varying(128)",
                oldMaxLength: 128
            );

            migrationBuilder.AlterColumn<string>(
                name: "login_provider",
                table: "identity_member_logins",
                type: "text",
                nullable: false,
                oldClrType: typeof(string),
                oldType: "character varying(128)",
                oldMaxLength: 128
            );
        }
    }
}
