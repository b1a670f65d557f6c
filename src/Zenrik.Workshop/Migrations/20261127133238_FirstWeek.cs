using System;
using System.Collections.Generic;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class FirstWeek : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<byte[]>(name: "badge_hash", table: "technicians", type: "bytea", nullable: true);

            migrationBuilder.AddColumn<string>(name: "pin_hash", table: "technicians", type: "text", nullable: true);

            migrationBuilder.AddColumn<List<string>>(
                name: "also_goals",
                table: "repairs",
                type: "text[]",
                nullable: false,
                defaultValueSql: "'{}'"
            );

            migrationBuilder.AddColumn<Guid>(name: "assigned_to_id", table: "repairs", type: "uuid", nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "campaign",
                table: "repairs",
                type: "character varying(60)",
                maxLength: 60,
                nullable: true
            );

            migrationBuilder.AddColumn<Guid>(name: "follows_id", table: "repairs", type: "uuid", nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "purpose",
                table: "repairs",
                type: "character varying(24)",
                maxLength: 24,
                nullable: false,
                defaultValue: "Fault"
            );

            migrationBuilder.CreateTable(
                name: "campaigns",
                columns: table => new
                {
                    name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    purpose = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: true),
                    assembly = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: true),
                    why = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: true),
                    ends_on = table.Column<DateOnly>(type: "date", nullable: true),
                    started_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    started_by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    ended_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    ended_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                    ended_why = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_campaigns", x => x.name);
                    table.ForeignKey(
                        name: "fk_campaigns_asp_net_users_ended_by_id",
                        column: x => x.ended_by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_campaigns_users_started_by_id",
                        column: x => x.started_by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "saved_views",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: false),
                    list = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    name = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    query = table.Column<string>(type: "character varying(600)", maxLength: 600, nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_saved_views", x => x.id);
                    table.ForeignKey(
                        name: "fk_saved_views_asp_net_users_owner_id",
                        column: x => x.owner_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "sign_in_sessions",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    stamp = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    started_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    seen_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    ends_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    ended_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    device = table.Column<string>(type: "character varying(120)", maxLength: 120, nullable: false),
                    address = table.Column<string>(type: "character varying(45)", maxLength: 45, nullable: false),
                    under_id = table.Column<Guid>(type: "uuid", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sign_in_sessions", x => x.id);
                    table.ForeignKey(
                        name: "fk_sign_in_sessions_users_person_id",
                        column: x => x.person_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_technicians_badge_hash",
                table: "technicians",
                column: "badge_hash",
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_repairs_assigned_to_id", table: "repairs", column: "assigned_to_id");

            migrationBuilder.CreateIndex(
                name: "ix_repairs_campaign",
                table: "repairs",
                column: "campaign",
                filter: "campaign IS NOT NULL"
            );

            migrationBuilder.CreateIndex(name: "ix_repairs_follows_id", table: "repairs", column: "follows_id");

            migrationBuilder.CreateIndex(name: "ix_campaigns_ended_by_id", table: "campaigns", column: "ended_by_id");

            migrationBuilder.CreateIndex(
                name: "ix_campaigns_started_by_id",
                table: "campaigns",
                column: "started_by_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_saved_views_owner_id_list_name",
                table: "saved_views",
                columns: new[] { "owner_id", "list", "name" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_sign_in_sessions_person_id",
                table: "sign_in_sessions",
                column: "person_id"
            );

            migrationBuilder.AddForeignKey(
                name: "fk_repairs_repairs_follows_id",
                table: "repairs",
                column: "follows_id",
                principalTable: "repairs",
                principalColumn: "id",
                onDelete: ReferentialAction.Restrict
            );

            migrationBuilder.AddForeignKey(
                name: "fk_repairs_users_assigned_to_id",
                table: "repairs",
                column: "assigned_to_id",
                principalTable: "technicians",
                principalColumn: "id",
                onDelete: ReferentialAction.Restrict
            );

            // Marks made before campaigns were kept have one from now on, begun by whoever made the first.
            migrationBuilder.Sql(
                """
                INSERT INTO campaigns (name, started_at, started_by_id)
                SELECT m.campaign, min(m.at), coalesce(
                    (SELECT e.by_id FROM unit_events e
                     WHERE e.kind = 'Campaign' AND e.text = 'Marked for “' || m.campaign || '”' ORDER BY e.id LIMIT 1),
                    (SELECT t.id FROM technicians t ORDER BY t.disabled_at NULLS FIRST, t.name LIMIT 1))
                FROM campaign_marks m
                GROUP BY m.campaign
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(name: "fk_repairs_repairs_follows_id", table: "repairs");

            migrationBuilder.DropForeignKey(name: "fk_repairs_users_assigned_to_id", table: "repairs");

            migrationBuilder.DropTable(name: "campaigns");

            migrationBuilder.DropTable(name: "saved_views");

            migrationBuilder.DropTable(name: "sign_in_sessions");

            migrationBuilder.DropIndex(name: "ix_technicians_badge_hash", table: "technicians");

            migrationBuilder.DropIndex(name: "ix_repairs_assigned_to_id", table: "repairs");

            migrationBuilder.DropIndex(name: "ix_repairs_campaign", table: "repairs");

            migrationBuilder.DropIndex(name: "ix_repairs_follows_id", table: "repairs");

            migrationBuilder.DropColumn(name: "badge_hash", table: "technicians");

            migrationBuilder.DropColumn(name: "pin_hash", table: "technicians");

            migrationBuilder.DropColumn(name: "also_goals", table: "repairs");

            migrationBuilder.DropColumn(name: "assigned_to_id", table: "repairs");

            migrationBuilder.DropColumn(name: "campaign", table: "repairs");

            migrationBuilder.DropColumn(name: "follows_id", table: "repairs");

            migrationBuilder.DropColumn(name: "purpose", table: "repairs");
        }
    }
}
