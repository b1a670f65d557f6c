using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class Practice : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "practice_runs",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "character varying(12)", maxLength: 12, nullable: false),
                    started_by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    guest = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: true),
                    started_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    ended_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    points = table.Column<int>(type: "integer", nullable: true),
                    model_code = table.Column<string>(type: "character varying(40)", nullable: true),
                    map_revision = table.Column<int>(type: "integer", nullable: true),
                    level = table.Column<string>(type: "character varying(12)", maxLength: 12, nullable: false),
                    fitted_parts = table.Column<string[]>(type: "text[]", nullable: false),
                    goals = table.Column<string[]>(type: "text[]", nullable: false),
                    house = table.Column<string[]>(type: "text[]", nullable: false),
                    acts = table.Column<string[]>(type: "text[]", nullable: false),
                    symptom = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: true),
                    seed = table.Column<int>(type: "integer", nullable: false),
                    harm = table.Column<string>(type: "jsonb", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_practice_runs", x => x.id);
                    table.CheckConstraint("ck_practice_runs_points", "points BETWEEN 0 AND 100");
                    table.ForeignKey(
                        name: "fk_practice_runs_service_map_revisions_model_code_map_revision",
                        columns: x => new { x.model_code, x.map_revision },
                        principalTable: "service_map_revisions",
                        principalColumns: new[] { "model_code", "revision" },
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_practice_runs_users_started_by_id",
                        column: x => x.started_by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "practice_moves",
                columns: table => new
                {
                    run_id = table.Column<Guid>(type: "uuid", nullable: false),
                    sequence = table.Column<int>(type: "integer", nullable: false),
                    request_id = table.Column<Guid>(type: "uuid", nullable: false),
                    text = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: false),
                    in_the_way = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: true),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_practice_moves", x => new { x.run_id, x.sequence });
                    table.CheckConstraint("ck_practice_moves_sequence", "sequence >= 1");
                    table.ForeignKey(
                        name: "fk_practice_moves_practice_runs_run_id",
                        column: x => x.run_id,
                        principalTable: "practice_runs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "practice_topics",
                columns: table => new
                {
                    run_id = table.Column<Guid>(type: "uuid", nullable: false),
                    topic = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    right = table.Column<bool>(type: "boolean", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_practice_topics", x => new { x.run_id, x.topic });
                    table.ForeignKey(
                        name: "fk_practice_topics_practice_runs_run_id",
                        column: x => x.run_id,
                        principalTable: "practice_runs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_practice_moves_in_the_way",
                table: "practice_moves",
                column: "in_the_way",
                filter: "in_the_way IS NOT NULL"
            );

            migrationBuilder.CreateIndex(
                name: "ix_practice_moves_run_id_request_id",
                table: "practice_moves",
                columns: new[] { "run_id", "request_id" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_practice_runs_ended_at", table: "practice_runs", column: "ended_at");

            migrationBuilder.CreateIndex(
                name: "ix_practice_runs_model_code_map_revision",
                table: "practice_runs",
                columns: new[] { "model_code", "map_revision" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_practice_runs_started_by_id_started_at",
                table: "practice_runs",
                columns: new[] { "started_by_id", "started_at" }
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "practice_moves");

            migrationBuilder.DropTable(name: "practice_topics");

            migrationBuilder.DropTable(name: "practice_runs");
        }
    }
}
