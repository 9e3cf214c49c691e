from django.urls import path

from ridgeback.jobs import views

app_name = "jobs"
urlpatterns = [
    path("enclosures/<int:pk>/sheet/", views.ask, name="ask-sheet"),
    path("enclosures/<int:pk>/build/sheet/", views.ask_build, name="ask-build"),
    path("household/archive/make/", views.ask_archive, name="ask-archive"),
    path("animals/<int:pk>/summary/pdf/", views.ask_summary, name="ask-summary"),
    path(
        "animals/<int:pk>/care-sheet/pdf/",
        views.ask_animal_paper,
        {"paper": "care"},
        name="ask-care-sheet",
    ),
    path(
        "animals/<int:pk>/transfer/pdf/",
        views.ask_animal_paper,
        {"paper": "transfer"},
        name="ask-transfer",
    ),
    path("second-look/<int:pk>/pdf/", views.ask_review, name="ask-review"),
    path("animals/<int:pk>/file/", views.ask_animal, name="ask-animal"),
    path("papers/<slug:paper>/", views.ask_paper, name="ask-paper"),
    path("jobs/<int:pk>/", views.job, name="job"),
    path("enclosures/<int:pk>/setups/", views.ask_setups, name="ask-setups"),
    path("jobs/<int:pk>/stop/", views.stop, name="stop"),
    path("jobs/<int:pk>/setups/", views.setups, name="setups"),
    path("jobs/<int:pk>/sheet.pdf", views.fetch, name="fetch"),
]
