using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class Bench : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "act",
                table: "repair_photos",
                type: "character varying(120)",
                maxLength: 120,
                nullable: true
            );

            migrationBuilder.AlterColumn<int>(
                name: "map_revision",
                table: "bench_sessions",
                type: "integer",
                nullable: true,
                oldClrType: typeof(int),
                oldType: "integer"
            );

            migrationBuilder.AddColumn<string>(
                name: "cause",
                table: "bench_entries",
                type: "character varying(24)",
                maxLength: 24,
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "goal",
                table: "bench_entries",
                type: "character varying(80)",
                maxLength: 80,
                nullable: true
            );

            migrationBuilder.AddColumn<string[]>(name: "rest", table: "bench_entries", type: "text[]", nullable: true);

            migrationBuilder.CreateTable(
                name: "follow_ups",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    what = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: false),
                    reason = table.Column<string>(type: "character varying(500)", maxLength: 500, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    put_right_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    put_right_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                    put_right = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_follow_ups", x => x.id);
                    table.ForeignKey(
                        name: "fk_follow_ups_asp_net_users_put_right_by_id",
                        column: x => x.put_right_by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_follow_ups_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_follow_ups_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_follow_ups_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "map_findings",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    model_code = table.Column<string>(type: "character varying(40)", nullable: false),
                    map_revision = table.Column<int>(type: "integer", nullable: false),
                    kind = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    target = table.Column<string>(type: "character varying(120)", maxLength: 120, nullable: false),
                    found = table.Column<int>(type: "integer", nullable: true),
                    cover = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: true),
                    note = table.Column<string>(type: "character varying(500)", maxLength: 500, nullable: true),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    state = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    decided_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    decided_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                    decision = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: true),
                    accepted_revision = table.Column<int>(type: "integer", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_map_findings", x => x.id);
                    table.ForeignKey(
                        name: "fk_map_findings_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_map_findings_service_map_revisions_model_code_map_revision",
                        columns: x => new { x.model_code, x.map_revision },
                        principalTable: "service_map_revisions",
                        principalColumns: new[] { "model_code", "revision" },
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_map_findings_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_map_findings_users_decided_by_id",
                        column: x => x.decided_by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_follow_ups_at",
                table: "follow_ups",
                column: "at",
                filter: "put_right_at IS NULL"
            );

            migrationBuilder.CreateIndex(name: "ix_follow_ups_by_id", table: "follow_ups", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_follow_ups_put_right_by_id",
                table: "follow_ups",
                column: "put_right_by_id"
            );

            migrationBuilder.CreateIndex(name: "ix_follow_ups_repair_id", table: "follow_ups", column: "repair_id");

            migrationBuilder.CreateIndex(name: "ix_follow_ups_unit_id", table: "follow_ups", column: "unit_id");

            migrationBuilder.CreateIndex(name: "ix_map_findings_by_id", table: "map_findings", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_map_findings_decided_by_id",
                table: "map_findings",
                column: "decided_by_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_map_findings_model_code_map_revision",
                table: "map_findings",
                columns: new[] { "model_code", "map_revision" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_map_findings_model_code_state",
                table: "map_findings",
                columns: new[] { "model_code", "state" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_map_findings_once",
                table: "map_findings",
                columns: new[] { "repair_id", "kind", "target" },
                unique: true
            );

            // Whoever has a session open sees what others do to it, whichever instance they use.
            migrationBuilder.Sql(
                """
                CREATE FUNCTION tell_bench_entry() RETURNS trigger LANGUAGE plpgsql AS $$
                BEGIN
                    PERFORM pg_notify('bench_entries', NEW.session_id || ' ' || NEW.sequence);
                    RETURN NULL;
                END
                $$;
                CREATE TRIGGER bench_entries_told AFTER INSERT ON bench_entries
                    FOR EACH ROW EXECUTE FUNCTION tell_bench_entry();
                CREATE FUNCTION tell_bench_state() RETURNS trigger LANGUAGE plpgsql AS $$
                BEGIN
                    PERFORM pg_notify('bench_entries', s.id || ' 2147483647') FROM bench_sessions s WHERE s.repair_id = NEW.id;
                    RETURN NULL;
                END
                $$;
                CREATE TRIGGER repairs_state_told AFTER UPDATE OF state ON repairs
                    FOR EACH ROW WHEN (OLD.state IS DISTINCT FROM NEW.state) EXECUTE FUNCTION tell_bench_state();
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(
                """
                DROP TRIGGER bench_entries_told ON bench_entries;
                DROP FUNCTION tell_bench_entry();
                DROP TRIGGER repairs_state_told ON repairs;
                DROP FUNCTION tell_bench_state();
                """
            );
            migrationBuilder.DropTable(name: "follow_ups");

            migrationBuilder.DropTable(name: "map_findings");

            migrationBuilder.DropColumn(name: "act", table: "repair_photos");

            migrationBuilder.DropColumn(name: "cause", table: "bench_entries");

            migrationBuilder.DropColumn(name: "goal", table: "bench_entries");

            migrationBuilder.DropColumn(name: "rest", table: "bench_entries");

            migrationBuilder.AlterColumn<int>(
                name: "map_revision",
                table: "bench_sessions",
                type: "integer",
                nullable: false,
                defaultValue: 0,
                oldClrType: typeof(int),
                oldType: "integer",
                oldNullable: true
            );
        }
    }
}
