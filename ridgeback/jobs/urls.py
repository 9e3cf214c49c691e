from django.urls import path

from ridgeback.jobs import views

app_name = "jobs"
urlpatterns = [
    path("habitats/<int:pk>/sheet/", views.ask, name="ask-sheet"),
    path("jobs/<int:pk>/", views.job, name="job"),
    path("jobs/<int:pk>/sheet.pdf", views.fetch, name="fetch"),
]
