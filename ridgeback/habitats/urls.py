from django.urls import path

from ridgeback.habitats import builds, days, grounds, logs, proofs, rooms, views, waters, years

app_name = "habitats"
urlpatterns = [
    path("", views.habitat_list, name="list"),
    path("habitats/<int:pk>/", views.habitat_page, name="page"),
    path("habitats/<int:pk>/preview/", views.preview, name="preview"),
    path("habitats/<int:pk>/keep/", views.keep, name="keep"),
    path("habitats/<int:pk>/forget/", views.forget_try, name="forget"),
    path("habitats/<int:pk>/apply/", views.apply_change, name="apply"),
    path("habitats/<int:pk>/undo/", views.undo, name="undo"),
    path("habitats/<int:pk>/built/", views.mark_built, name="built"),
    path("habitats/<int:pk>/readings/", views.add_reading, name="add-reading"),
    path("habitats/<int:pk>/simulate/", views.simulate, name="simulate"),
    path("habitats/<int:pk>/move-in/", views.move_in, name="move-in"),
    path("habitats/<int:pk>/move-out/", views.move_out, name="move-out"),
    path("habitats/<int:pk>/day/", days.day, name="day"),
    path("habitats/<int:pk>/ground/", grounds.ground, name="ground"),
    path("habitats/<int:pk>/water/", waters.water, name="water"),
    path("habitats/<int:pk>/damp-year/", years.damp_year, name="damp-year"),
    path("habitats/<int:pk>/build/", builds.build, name="build"),
    path("habitats/<int:pk>/build.csv", builds.build_csv, name="build-csv"),
    path("habitats/<int:pk>/build.ics", builds.build_ics, name="build-ics"),
    path("habitats/<int:pk>/prove/", proofs.prove, name="prove"),
    path("habitats/<int:pk>/prove/read/", proofs.read_beside, name="prove-read"),
    path("habitats/<int:pk>/settle-in/", proofs.settle_in, name="settle-in"),
    path("habitats/<int:pk>/log/", logs.log, name="log"),
    path("habitats/<int:pk>/log/use/", logs.use_log, name="use-log"),
    path("rooms/<int:pk>/power/", rooms.room_power, name="room-power"),
    path("rooms/<int:pk>/plugs/", rooms.plugs, name="plugs"),
    path("habitats/<int:pk>/working/", views.working, name="working"),
    path("habitats/<int:pk>/drawing.svg", views.drawing_file, name="drawing"),
    path("habitats/<int:pk>/request.json", views.request_file, name="request"),
]
