from django.urls import path

from ridgeback.firstrun import views

app_name = "firstrun"
urlpatterns = [
    path("start/", views.begin, name="begin"),
    path("start/away/", views.give_up, name="give-up"),
    path("start/<slug:step>/", views.step, name="step"),
    path("start/<slug:step>/draft/", views.draft, name="draft"),
    path("start/<slug:step>/suggest/", views.suggest_anew, name="suggest"),
]
